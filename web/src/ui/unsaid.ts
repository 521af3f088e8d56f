import { shallowRef, type App } from 'vue'
import { Refused } from '../api/client'
import type { Problem } from '../api/schema.gen'

/** What was refused, or did not reach the barn, and no part of the page says: it is said at its top. */
export const unsaid = shallowRef<Problem | null>(null)

function say(e: unknown): boolean {
  if (!(e instanceof Refused)) return false
  unsaid.value = e.problem
  return true
}

/** Hears what goes wrong behind any button, so that none fails without a word. */
export function hearFailures(app: App, page: Window): void {
  app.config.errorHandler = (e) => {
    if (!say(e)) console.error(e)
  }
  page.addEventListener('unhandledrejection', (e) => say(e.reason) && e.preventDefault())
}
