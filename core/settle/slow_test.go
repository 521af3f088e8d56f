package settle

import "os"

// slow is how often something is simulated: at length where SLOW is set, as make slow does.
func slow(long, short int) int {
	if os.Getenv("SLOW") != "" {
		return long
	}
	return short
}
