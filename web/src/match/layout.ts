import { computed, ref } from 'vue'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'

/** What is asked just now, of whom it moves; one page asks at a time. */
export const asking = ref<{ what: string; answer: (why: string | null) => void } | null>(null)

/** Drawing and moving: once a cut is on the fire it needs the pitmaster's reason, which the verdict names. */
export function useLayout() {
  const { trial, shut } = useThisTrial()
  const { isPitmaster, mayWith } = useSession()
  /** What goes into which arm is not for this person to say, or for nobody any more. */
  const fixed = computed(() => shut.value || !mayWith('arms'))
  const lit = computed(() => trial.value.events.some((e) => e.act === 'on'))
  /** The reason; empty where none is needed, null where the person lets it be. */
  function reason(what: string): Promise<string | null> {
    if (!lit.value || !isPitmaster.value) return Promise.resolve('')
    return new Promise((resolve) => (asking.value = { what, answer: resolve }))
  }
  return { lit, fixed, reason }
}
