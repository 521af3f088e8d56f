<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { ref } from 'vue'
import { useThisTrial, weighingAt } from '../trial/trial'
import ArmToken from '../ui/ArmToken.vue'
import { dateTime } from '../ui/time'
import { weight } from '../ui/units'

/** Labels to print and stick: for the crew with mark and tag, or blind. */
const { trial, armOf } = useThisTrial()
const kind = ref<'crew' | 'blind'>('crew')
const where = (c: (typeof trial.value.cuts)[number]) => {
  const day = trial.value.cooks.findIndex((k) => k.id === c.placement?.cook_id)
  const run = trial.value.cooks[day]?.runs.find((r) => r.id === c.placement?.pit_run_id)
  return run ? `Day ${day + 1}, ${run.pit} ${c.placement!.position}` : ''
}
const print = () => window.print()
</script>

<template>
  <div class="page stack">
    <div class="row no-print">
      <h1>Labels to stick</h1>
      <SelectButton
        v-model="kind"
        :options="[
          { label: 'For the crew', value: 'crew' },
          { label: 'Blind, no arm', value: 'blind' },
        ]"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        aria-label="Kind of label"
        data-testid="label-kind"
      />
      <Button label="Print" @click="print" />
      <RouterLink class="push" :to="`/trials/${trial.id}/match`">Back to Match</RouterLink>
    </div>
    <p class="soot small no-print">
      The code opens the slip of the cut, for hands that are signed in. A blind label goes on what tasters or a carver
      who tastes could see.
    </p>
    <div class="sheet">
      <article v-for="c in trial.cuts" :key="c.id" class="sticker" :data-testid="`label-${c.name}`">
        <img :src="`/api/cuts/${c.id}/qr.png`" width="96" height="96" :alt="`Code of ${c.name}`" />
        <div>
          <b class="num name">{{ c.name }}</b>
          <p>{{ trial.ask.cut }}{{ c.animal ? `, ${c.animal}` : '' }}{{ c.side ? `, ${c.side}` : '' }}</p>
          <template v-if="kind === 'crew'">
            <p v-if="weighingAt(c, 'trimmed')" class="num">{{ weight(weighingAt(c, 'trimmed')!.kg) }}</p>
            <p class="small">{{ where(c) }}</p>
          </template>
        </div>
        <div v-if="kind === 'crew' && armOf(c) >= 0" class="arm">
          <ArmToken :place="armOf(c)" :size="56" />
          <b class="num">{{ trial.ask.arms[armOf(c)]!.tag }}</b>
        </div>
      </article>
    </div>
    <p class="foot small">{{ trial.ask.question }} Printed {{ dateTime(new Date()) }}.</p>
    <p v-if="trial.cuts.length === 0" class="soot">Hang the cuts in Match first.</p>
  </div>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(360px, 1fr));
  gap: 12px;
}
.sticker {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) auto;
  gap: 14px;
  align-items: center;
  border: 2px solid var(--ink);
  background: var(--board);
  padding: 10px;
  break-inside: avoid;
}
.name {
  font-size: 31px;
  line-height: 1;
}
.arm {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 4px;
  font-size: 19px;
}
img {
  image-rendering: pixelated;
}
.foot {
  display: none;
}
@media (max-width: 900px) {
  .sheet {
    grid-template-columns: minmax(0, 1fr);
  }
}

/* On paper the mark is 60 mm high, to be read across the fire. */
@media print {
  .sheet {
    grid-template-columns: 1fr 1fr;
  }
  .sticker {
    grid-template-columns: minmax(0, 1fr) auto;
    background: none;
  }
  .sticker img {
    grid-column: 1;
  }
  .arm {
    grid-column: 2;
    grid-row: 1 / span 2;
  }
  .arm :deep(.token) {
    zoom: 6.6 !important;
    print-color-adjust: exact;
  }
  .name {
    font-size: 40px;
  }
  .foot {
    display: block;
  }
}
</style>
