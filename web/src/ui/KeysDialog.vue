<script setup lang="ts">
import Dialog from 'primevue/dialog'
import KeyCap from './KeyCap.vue'

const shown = defineModel<boolean>({ required: true })
const groups: [string, [string, string][]][] = [
  [
    'Anywhere',
    [
      ['g b', 'Barn'],
      ['g p', 'Pits and devices'],
      ['g y', 'Pantry'],
      ['g k', 'Bench'],
      ['g c', 'Crew'],
      ['g 1 to 8', 'a step of this trial'],
      ['⇧ N', 'night or day'],
      ['?', 'these keys'],
    ],
  ],
  [
    'Match',
    [
      ['← →', 'pick a cut'],
      ['1 to 6', 'put it into an arm'],
      ['X', 'move it to the next arm'],
      ['W B T F C', 'its weight, bought weight, thickness, fat cap, cold temp'],
      ['D', 'draw the arms'],
      ['M', 'the least moves that clear the places'],
    ],
  ],
  [
    'Plan',
    [
      ['← →', 'the picked phase 15 min shorter or longer, or a degree less or more'],
      ['Tab', 'the next phase'],
    ],
  ],
  [
    'Prep',
    [
      ['↑ ↓', 'pick a cut'],
      ['1 to 9', 'mark a dose as given'],
    ],
  ],
  [
    'Fire',
    [
      ['1 2', 'pick an arm'],
      ['0', 'all arms'],
      ['F O S A L W R P N', 'log: lit, on, spritz, wood, lid, wrap, read, pull, note'],
      ['E V D Z M B T J H C', 'fuel, vent, water, unwrap, move, bark, spot read, photo, hold, carve'],
      ['U', 'undo, back to ten minutes'],
      ['Enter', 'the first due is done'],
      ['K', 'the first alarm was seen'],
      ['[ ]', '5 min earlier, later'],
      ['+ − ← →', 'zoom and move the log'],
      ['Y', 'what is likely, up to the table'],
      ['X', 'ways out, side by side'],
      ['Space', 'play a finished cook again'],
      ['I', 'import a log'],
      ['Q', 'what each probe measures'],
    ],
  ],
  ['Rest', [['Enter', 'keep the weight and go to the next cut']]],
]
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Keys" :style="{ width: '34rem' }">
    <section v-for="[name, keys] in groups" :key="name">
      <h3>{{ name }}</h3>
      <p v-for="[key, what] in keys" :key="key">
        <KeyCap>{{ key }}</KeyCap> {{ what }}
      </p>
    </section>
    <p class="soot small">Letters act while no field has focus. They can be turned off in Crew.</p>
  </Dialog>
</template>

<style scoped>
section {
  margin-bottom: 16px;
}
p {
  padding: 4px 0;
}
</style>
