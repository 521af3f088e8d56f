import { computed, ref, watch, type Ref } from 'vue'
import { api, ok } from '../api/client'
import type { View, Standing } from '../api/schema.gen'

/** Which context decides, and its weights as a hand moved them: the sentence follows. */
export function useAnswer(trialID: Ref<number>, view: Ref<View | undefined>, since: Ref<boolean>) {
  const standings = computed<Standing[]>(
    () => (since.value ? (view.value?.standings_since ?? view.value?.standings) : view.value?.standings) ?? [],
  )
  const chosen = ref(0)
  const moved = ref<Standing | null>(null)
  const shares = ref<Record<string, number>>({})
  const kept = computed(() => standings.value[Math.min(chosen.value, standings.value.length - 1)])
  const standing = computed(() => moved.value ?? kept.value)
  let asked = 0
  let waiting = 0
  function putBack() {
    asked++
    window.clearTimeout(waiting)
    moved.value = null
    shares.value = Object.fromEntries((kept.value?.weighs ?? []).map((w) => [w.key, 100 * w.share]))
  }
  watch(kept, putBack, { immediate: true })

  async function ask() {
    const mine = ++asked
    const answer = await ok(
      api.POST('/api/trials/{id}/weigh', {
        params: { path: { id: trialID.value } },
        body: { context: kept.value?.context ?? '', weights: shares.value, since: since.value },
      }),
    )
    if (mine === asked) moved.value = answer
  }
  /** One weight is moved to a share of all; the others keep their proportions. */
  function move(key: string, share: number) {
    const rest = Object.entries(shares.value).filter(([k]) => k !== key)
    const sum = rest.reduce((n, [, v]) => n + v, 0)
    const next: Record<string, number> = { [key]: share }
    for (const [k, v] of rest) next[k] = sum > 0 ? (v / sum) * (100 - share) : (100 - share) / rest.length
    shares.value = next
    // A slider that is dragged asks once it rests.
    window.clearTimeout(waiting)
    waiting = window.setTimeout(() => void ask(), 120)
  }
  return { standings, chosen, standing, moved, shares, move, putBack }
}
