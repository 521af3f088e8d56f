package thermal

import (
	"testing"

	"whitebarn/core/logbook"
)

// TestWhatCanBeLoggedAroundACutIsKnownToTheModel but for what has no key.
func TestWhatCanBeLoggedAroundACutIsKnownToTheModel(t *testing.T) {
	for _, key := range logbook.Material("").Values() {
		if key == "" || logbook.Material(key) == logbook.OtherMaterial {
			continue
		}
		if _, err := WrapOf(key); err != nil {
			t.Errorf("a cut can be wrapped in %s, which the model does not know: %v", key, err)
		}
	}
}
