<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { CookView, Leftover, LeftInput } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ProblemNote from '../ui/ProblemNote.vue'

/** What is left in the pits when the fire is out: by weight, by volume, or as a share of full, and how it looks. */
const { cook } = defineProps<{ cook: CookView }>()
const { set, shut } = useThisTrial()
const { run, problem } = useAct()
const whats: { key: LeftInput['what']; name: string; hint: string }[] = [
  { key: 'fuel', name: 'Fuel', hint: '2 lb or 30 %' },
  { key: 'wood', name: 'Wood', hint: '1 lb' },
  { key: 'water', name: 'Water', hint: '1.5 l or 40 %' },
  { key: 'pan', name: 'Pan', hint: '300 ml' },
]
const kept = (run: number, what: LeftInput['what']): Leftover | undefined =>
  cook.left.find((l) => l.pit_run_id === run && l.what === what)
async function keep(run_: number, what: LeftInput['what'], change: Partial<Pick<LeftInput, 'amount' | 'state'>>) {
  const was = kept(run_, what)
  const body = { pit_run_id: run_, what, amount: was?.typed ?? '', state: was?.state ?? '', ...change }
  set(await run(() => ok(api.PUT('/api/cooks/{id}/left', { params: { path: { id: cook.id } }, body }))))
}
const value = (e: Event) => (e.target as HTMLInputElement).value.trim()
</script>

<template>
  <section class="left no-print" data-testid="left">
    <h2>Left in the pits</h2>
    <ProblemNote :problem="problem" />
    <div v-for="r in cook.runs" :key="r.id" class="run">
      <b>{{ r.pit }}</b>
      <span v-for="w in whats" :key="w.key" class="one">
        <label :for="`left-${r.id}-${w.key}`" class="small">{{ w.name }}</label>
        <InputText
          :id="`left-${r.id}-${w.key}`"
          :model-value="kept(r.id, w.key)?.typed ?? ''"
          class="mono-input much"
          :placeholder="w.hint"
          :disabled="shut"
          @change="(e: Event) => keep(r.id, w.key, { amount: value(e) })"
        />
        <InputText
          v-if="kept(r.id, w.key)"
          :model-value="kept(r.id, w.key)!.state"
          class="state"
          placeholder="how it looks"
          :aria-label="`How the ${w.name.toLowerCase()} of ${r.pit} looks`"
          :disabled="shut"
          @change="(e: Event) => keep(r.id, w.key, { state: value(e) })"
        />
      </span>
    </div>
  </section>
</template>

<style scoped>
.left {
  padding: 10px 16px;
}
h2 {
  font-size: 18px;
  margin: 0 0 6px;
}
.run {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  min-height: 48px;
}
.one {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.much {
  width: 130px;
  min-height: 44px;
}
.state {
  width: 130px;
  min-height: 44px;
}
</style>
