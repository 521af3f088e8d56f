<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ok } from '../api/client'
import type { CookView, RestView } from '../api/schema.gen'
import { doorPx, ticks, timeScale, type Room } from '../fire/scale'
import type { useGate } from '../gate/gate'
import { useThisTrial } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { clock, date } from '../ui/time'
import { sentence, temperature } from '../ui/units'
import RestTrack from './RestTrack.vue'

/** One track a piece, grouped by arm, on one clock with the door at now. */
const { cook, rest, gate } = defineProps<{
  cook: CookView
  rest: RestView | undefined
  gate: ReturnType<typeof useGate>['of']
}>()
const picked = defineModel<number | null>('picked', { required: true })
const emit = defineEmits<{ read: [number] }>()
const { trial, armOf } = useThisTrial()
const cuts = computed(() => trial.value.cuts.filter((c) => c.placement?.cook_id === cook.id))
const groups = computed(() =>
  trial.value.ask.arms.flatMap((a, place) => {
    const of = cuts.value.filter((c) => armOf(c) === place)
    return of.length ? [{ arm: a, place, cuts: of }] : []
  }),
)
const of = (id: number) => rest?.cuts.find((r) => r.cut_id === id)

const box = ref<HTMLElement | null>(null)
const { width: all } = useElementSize(box)
const head = 138
const doorWidth = 84
const width = computed(() => Math.max(240, all.value - head))
const now = computed(() => Date.parse(rest?.now ?? cook.now))
const view = computed<[number, number]>(() => {
  const on = rest?.cuts.filter((r) => r.state !== 'not on') ?? []
  const pulls = on.flatMap((r) => (r.pull ? [Date.parse(r.pull)] : r.likely ? [Date.parse(r.likely.middle)] : []))
  const knives = on.map((r) => Date.parse(r.knife))
  const over = on.length > 0 && on.every((r) => r.cut)
  const to = Math.max(...knives, ...pulls, over ? 0 : now.value, Date.parse(rest?.knife ?? cook.serve_at)) + 30 * 60_000
  const from = Math.min(...pulls, over ? to : now.value - 60 * 60_000) - 20 * 60_000
  return [from, to]
})
const over = computed(() => rest !== undefined && rest.cuts.every((r) => r.cut || r.state === 'not on'))
const room = computed<Room>(() => ({ width: width.value, gutter: 46, door: doorWidth }))
const doorAt = computed(() =>
  over.value ? view.value[1] : Math.min(Math.max(now.value, view.value[0]), view.value[1]),
)
const door = computed(() => doorPx(view.value, room.value, doorAt.value))
const scale = computed(() => timeScale(view.value, room.value, door.value))
const marks = computed(() =>
  ticks(view.value[0], view.value[1], width.value)
    .map((t) => ({ t, x: scale.value.x(t) }))
    .filter((m) => m.x > 46 && m.x < width.value - 34 && (m.x < door.value - 26 || m.x > door.value + doorWidth + 26)),
)
const table = computed(() => scale.value.x(Date.parse(cook.serve_at)))

const query = computed(() => ({ from: view.value[0], to: Math.min(view.value[1], now.value), columns: 300 }))
const { data: traces } = useQuery({
  queryKey: computed(() => [
    'traces',
    cook.id,
    'rest',
    Math.round(query.value.from / 600_000),
    Math.round(now.value / 60_000),
  ]),
  queryFn: () =>
    ok(
      api.GET('/api/cooks/{id}/traces', {
        params: {
          path: { id: cook.id },
          query: { ...query.value, from: Math.round(query.value.from), to: Math.round(query.value.to) },
        },
      }),
    ),
  enabled: computed(() => rest !== undefined),
  staleTime: 30_000,
  structuralSharing: false,
})
const traceOf = (id: number) => traces.value?.traces.filter((t) => t.cut_id === id) ?? []
const lowOf = (id: number) => rest?.holders.find((h) => h.run_id === of(id)?.holder_run_id)?.low_c ?? null
const holderOf = (ids: number[]) =>
  rest?.holders.filter((h) => ids.some((id) => of(id)?.holder_run_id === h.run_id)) ?? []
</script>

<template>
  <section ref="box" class="rest-board" data-testid="rest-board" aria-label="From the pull to the knife">
    <div class="clocks">
      <b class="small">Off to the knife</b>
      <div class="line">
        <span v-for="m in marks" :key="m.t" class="num" :style="{ left: `${m.x}px` }">{{ clock(m.t) }}</span>
        <b class="num now" :style="{ left: `${door}px`, width: `${doorWidth}px` }">{{
          over ? date(view[1]) : clock(now)
        }}</b>
      </div>
    </div>
    <div v-for="g in groups" :key="g.arm.id" class="group">
      <div class="head">
        <div class="row tag">
          <ArmToken :place="g.place" :size="24" /><b class="num">{{ g.arm.tag }}</b>
        </div>
        <p v-for="h in holderOf(g.cuts.map((c) => c.id))" :key="h.run_id" class="small">
          {{ h.name }}{{ h.set_c ? ` ${temperature(h.set_c)}` : '' }}
          <span v-if="typeof h.low_c === 'number'" :class="h.low_c < h.floor_c ? 'watch triangle' : 'soot'"
            >low swing {{ temperature(h.low_c) }}</span
          >
          <span v-else class="watch triangle">no probe in it</span>
          <RouterLink
            :to="`/pits/holders/${h.holder_id}`"
            class="read-on"
            :class="h.on.standing === 'stands' ? 'soot' : 'watch triangle'"
            :title="sentence(h.on.words)"
            >{{
              h.on.standing === 'stands'
                ? 'calibrated'
                : h.on.standing === 'none'
                  ? 'not calibrated'
                  : 'read at another dial'
            }}</RouterLink
          >
        </p>
      </div>
      <div class="tracks">
        <template v-for="c in g.cuts" :key="c.id">
          <RestTrack
            v-if="of(c.id)"
            :cut="c"
            :arm="g.place"
            :rest="of(c.id)!"
            :events="trial.events"
            :traces="traceOf(c.id)"
            :ruling="gate(c.id)"
            :scale="scale"
            :width="width"
            :door="door"
            :door-width="doorWidth"
            :now="now"
            :picked="picked === c.id"
            :low="lowOf(c.id)"
            @pick="picked = c.id"
            @read="emit('read', c.id)"
          />
          <div v-else class="waiting num">{{ c.name }}</div>
        </template>
      </div>
    </div>
    <i v-if="table > 0 && table < width" class="table" :style="{ left: `${head + table}px` }" title="the table" />
  </section>
</template>

<style scoped>
.rest-board {
  position: relative;
  background: var(--board);
  min-width: 0;
}
.clocks {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  border-bottom: var(--line-strong) solid var(--ink);
  height: 30px;
  align-items: center;
  padding-left: 8px;
}
.line {
  position: relative;
  height: 30px;
}
.line > * {
  position: absolute;
  top: 5px;
  transform: translateX(-50%);
  font-size: 14px;
}
.line .now {
  transform: none;
  top: 0;
  height: 30px;
  line-height: 30px;
  text-align: center;
  background: #1c2426;
  color: #f4f4f0;
  border-inline: 3px solid var(--ember);
}
.group {
  display: grid;
  grid-template-columns: 138px minmax(0, 1fr);
  border-bottom: var(--line) solid var(--ink);
}
.head {
  padding: 6px 8px;
  border-right: var(--line) solid var(--edge);
  line-height: 1.3;
}
.head p {
  margin: 2px 0;
}
.read-on {
  display: block;
  min-height: 24px;
}
.tag {
  gap: 6px;
  flex-wrap: nowrap;
}
.waiting {
  height: 94px;
  border-top: var(--line) solid var(--grain);
  font-weight: 700;
  padding: 4px;
  color: var(--soot);
}
.watch {
  color: var(--watch);
  font-weight: 700;
}
.table {
  position: absolute;
  top: 30px;
  bottom: 0;
  border-left: 2px solid var(--ink);
  pointer-events: none;
}
</style>
