import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, watch, type Ref } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, CutView, Event, Resting } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { clock, span } from '../ui/time'
import { degrees, temperature } from '../ui/units'
import { system } from '../ui/settings'

/** What a cook's cuts do from the pull on, worked out anew as the log grows and every half minute. */
export function useRest(cookId: Ref<number | null>) {
  const { trial } = useThisTrial()
  const client = useQueryClient()
  const key = computed(() => ['rest', cookId.value])
  const { data, isFetched } = useQuery({
    queryKey: key,
    queryFn: () => ok(api.GET('/api/cooks/{id}/rest', { params: { path: { id: cookId.value! } } })),
    enabled: computed(() => cookId.value !== null),
    refetchInterval: 30_000,
  })
  watch(
    () => [trial.value.events.length, trial.value.events.at(-1)?.id, trial.value.cooks.map((k) => k.serve_at).join()],
    () => void client.invalidateQueries({ queryKey: key.value }),
  )
  return { rest: data, asked: isFetched }
}

/** The cook whose cuts are off and not cut up, else the last that burned, else the first. */
export function cookAtRest(cooks: CookView[], cuts: CutView[], events: Event[]): number | null {
  const of = (k: CookView, act: string) =>
    events.some((e) => e.act === act && cuts.some((c) => c.id === e.cut_id && c.placement?.cook_id === k.id))
  const open = cooks.filter((k) => of(k, 'on'))
  return (
    (
      open.find((k) => {
        const mine = cuts.filter((c) => c.placement?.cook_id === k.id)
        return mine.some((c) => !events.some((e) => e.act === 'carve' && e.cut_id === c.id))
      }) ??
      open.at(-1) ??
      cooks[0]
    )?.id ?? null
  )
}

/** One line to the right of the door: how long it rests, and whether it is too hot or too cold for the knife. */
export function restWords(r: Resting): { words: string; watch: string } {
  if (r.state === 'not on') return { words: 'not on yet', watch: '' }
  const rest = r.rest_s && r.rest_s > 0 ? span(r.rest_s / 3600) : ''
  if (r.cut) return { words: rest ? `Rested ${rest}` : 'Cut', watch: '' }
  if (r.state === 'on' && !r.likely) return { words: 'On the fire, no forecast', watch: '' }
  if (r.state === 'on' && !rest) return { words: `Off about ${clock(r.likely!.middle)}`, watch: 'after the knife' }
  const at = typeof r.knife_c === 'number' ? ` at about ${temperature(r.knife_c)}` : ''
  return { words: `Rest ${rest}, knife ${clock(r.knife)}${at}`, watch: tooHot(r) }
}
function tooHot(r: Resting): string {
  if (typeof r.knife_c !== 'number' || !r.window.high_c) return ''
  const off = (d: number) => degrees(d + (system.value === 'F' ? -32 / 1.8 : 0))
  if (r.knife_c > r.window.high_c + 0.5) return `${off(r.knife_c - r.window.high_c)} ${system.value} too hot`
  if (r.knife_c < r.window.low_c - 0.5) return `${off(r.window.low_c - r.knife_c)} ${system.value} too cold`
  return ''
}

/** When a hold is enough, in words. */
export function enoughWords(r: Resting): string {
  if (r.cut || r.state === 'on' || r.state === 'not on' || !r.tender.length) return ''
  if (!r.enough) return 'tender only after the knife'
  if (Date.parse(r.enough) <= Date.parse(r.pull ?? r.enough)) return 'tender as it came off'
  const late = r.enough_high ? clock(r.enough_high) : 'after the knife'
  return `tender about ${clock(r.enough)} (${r.enough_low ? clock(r.enough_low) : 'now'} to ${late})`
}
