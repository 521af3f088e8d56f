import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, Detail, Due } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'

/** What a due task is logged with: as it was planned. A move into a cooker that the cook does not have yet takes it first. */
export function useAsPlanned(cook: () => CookView) {
  const { set, trial } = useThisTrial()
  const { run, problem } = useAct()
  async function asPlanned(d: Due): Promise<Detail | undefined> {
    if (d.act !== 'move' || !d.pit_id) return d.detail
    const there = () => trial.value.cooks.find((k) => k.id === cook().id)?.runs.find((r) => r.pit_id === d.pit_id)
    if (!there()) await begin(d.pit_id, d.pit_set)
    const id = there()?.id
    return id ? { ...d.detail, run_id: id } : undefined
  }
  /** Takes another cooker for the cook. */
  async function begin(pit: number, setPoint: string) {
    set(
      await run(() =>
        ok(
          api.POST('/api/cooks/{id}/runs', {
            params: { path: { id: cook().id } },
            body: { pit_id: pit, set_point: setPoint },
          }),
        ),
      ),
    )
  }
  return { asPlanned, begin, problem }
}
