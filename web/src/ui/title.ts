import { ref } from 'vue'

/** What the top line names: the trial at hand. */
export const title = ref('')
