import { useEventListener, useLocalStorage } from '@vueuse/core'
import { keyHeard } from './strokes'

/** Single letters can be turned off under one's own name. */
export const lettersOn = useLocalStorage('barn.letters', true)

/** Calls the handler of a key while no field has focus; true from it means it was ours. */
export function useKeys(handlers: (key: string, e: KeyboardEvent) => boolean | void) {
  useEventListener(window, 'keydown', (e: KeyboardEvent) => {
    const at = e.target as HTMLElement
    const typing = at.closest?.(
      'input, textarea, select, [contenteditable], [role="dialog"], [role="combobox"], [role="listbox"]',
    )
    const key = keyHeard(e, !!typing, lettersOn.value)
    if (!key || !handlers(key, e)) return
    e.preventDefault()
    // Else the second key of "g c" would also carve on the fire's page.
    e.stopImmediatePropagation()
  })
}
