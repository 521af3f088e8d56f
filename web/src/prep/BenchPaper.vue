<script setup lang="ts">
import type { CutPrep, CutView, PrepView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import ArmName from '../ui/ArmName.vue'
import { figure } from './dose'

/** The bench list on paper. */
defineProps<{ prep: PrepView; cuts: CutView[]; of: (c: CutView) => CutPrep | undefined }>()
const { trial, armOf } = useThisTrial()
</script>

<template>
  <div class="paper">
    <h1>Bench list: {{ trial.ask.question }}</h1>
    <table>
      <tbody v-for="c in cuts" :key="c.id">
        <tr v-for="(o, i) in of(c)?.orders ?? []" :key="o.key">
          <td>
            <template v-if="i === 0"
              ><ArmName v-if="armOf(c) >= 0" :place="armOf(c)" :tag="trial.ask.arms[armOf(c)]!.tag" />
              <b class="num name">{{ c.name }}</b></template
            >
          </td>
          <td class="num amount">{{ o.numbers[0] ? figure(o.numbers[0]) : '' }}</td>
          <td>
            <b class="dose">{{ o.name }}</b>
            <span class="small">{{
              o.numbers
                .slice(1)
                .map((n) => `${n.label} ${figure(n)}`)
                .join(', ')
            }}</span>
          </td>
          <td class="box"><i /></td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      Below 40 F until it goes on. Left-over injection or brine that met raw meat is thrown away. Allergens:
      {{ prep.allergens.join(', ') || 'none known' }}.
    </p>
  </div>
</template>

<style scoped>
.paper {
  display: none;
}
@media print {
  .paper {
    display: block;
  }
  .paper td {
    vertical-align: top;
    font-size: 16px;
  }
  .paper tbody {
    break-inside: avoid;
    border-top: 2px solid #000;
  }
  .paper .dose {
    margin-right: 10px;
  }
  .paper .name {
    font-size: 26px;
    margin-left: 10px;
  }
  .paper .amount {
    font-size: 24px;
    font-weight: 700;
    white-space: nowrap;
  }
  .box i {
    display: block;
    width: 24px;
    height: 24px;
    border: 2px solid #000;
  }
}
</style>
