<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import { dateTime, span } from '../ui/time'
import ArchiveIn from './ArchiveIn.vue'
import BackupList from './BackupList.vue'
import ThinReadings from './ThinReadings.vue'
import TokenList from './TokenList.vue'
import { megabytes } from './size'

/** How the record is kept, brought out and taken in. */
const { isPitmaster } = useSession()
const { data: kept } = useQuery({ queryKey: ['records'], queryFn: () => ok(api.GET('/api/records')) })
const { data: trials } = useQuery({ queryKey: ['trials'], queryFn: () => ok(api.GET('/api/trials')) })
const newest = computed(() => kept.value?.backups?.kept[0])
const settled = computed(() => (trials.value ?? []).filter((t) => t.settled))
const age = (at: string) => {
  const hours = (Date.now() - +new Date(at)) / 3_600_000
  return hours < 1 / 60 ? 'under a minute' : span(hours)
}
const head = computed(() => {
  const k = kept.value
  if (!k) return ''
  const backup = newest.value
    ? `The newest backup is ${age(newest.value.at)} old.`
    : k.backups
      ? 'No backup was taken yet.'
      : 'This server takes no backups by the clock.'
  return `The record is ${megabytes(k.bytes)}. ${backup}`
})
</script>

<template>
  <div v-if="kept" class="page stack">
    <h1 data-testid="records-head">{{ head }}</h1>
    <p v-if="kept.room.words" class="triangle">{{ kept.room.words }} {{ kept.room.remedy }}</p>
    <div class="columns">
      <section class="stack">
        <h2>Take it out</h2>
        <p v-if="isPitmaster">
          <a class="way" href="/api/records/barn.zip" download data-testid="barn-zip"
            >The whole barn, a zip of tables</a
          >
          <span class="soot small">CSV, with what each field is; passwords and keys stay here.</span>
        </p>
        <details>
          <summary>One trial</summary>
          <p v-if="settled.length === 0" class="soot">A trial can be taken out once its codes are open.</p>
          <ul v-else class="trials">
            <li v-for="t in settled" :key="t.id">
              <span>{{ t.question }}</span>
              <a
                v-if="isPitmaster"
                :href="`/api/trials/${t.id}/trial.zip`"
                download
                :aria-label="`Tables of ${t.question}`"
                >tables</a
              >
              <a :href="`/api/trials/${t.id}/report.html`" target="_blank" :aria-label="`Report of ${t.question}`"
                >report</a
              >
              <a :href="`/api/trials/${t.id}/report.json`" :aria-label="`JSON of ${t.question}`">JSON</a>
            </li>
          </ul>
        </details>
        <p class="soot small">
          Pictures: <b>Help</b>, then <b>Pictures of this page</b>, on any page. Cards: <b>Markdown</b> on the card. A
          cook's calendar: on its plan.
        </p>
        <h2>Take it in</h2>
        <p v-if="isPitmaster">
          <RouterLink class="way" to="/notebook" data-testid="to-notebook">Write up an old cook</RouterLink>
          <span class="soot small">One page of a notebook: arms, cuts, times, weights, scores.</span>
        </p>
        <ArchiveIn v-if="isPitmaster" />
        <p class="soot small">
          A logger's file: at the Fire of its cook. Rows of a spreadsheet: <b>Paste rows</b> at Match, Rest and Table. A
          whole barn: on the machine, <b class="num">whitebarn restore FILE</b>.
        </p>
      </section>
      <section class="stack">
        <BackupList :kept="kept" />
        <ThinReadings v-if="isPitmaster" :kept="kept" />
        <TokenList v-if="isPitmaster" />
        <h2>The program</h2>
        <p>
          White Barn <b class="num">{{ kept.build.version }}</b>{{
            kept.build.revision ? `, source ${kept.build.revision}` : ''
          }}, {{ kept.build.go }}, {{ kept.database }}. <RouterLink to="/records/api">What scripts can ask</RouterLink>,
          <RouterLink to="/records/licences">licences of what ships</RouterLink>.
        </p>
        <details>
          <summary>The record is of version {{ kept.migrations[0]?.version }}; how it came there</summary>
          <table>
            <thead>
              <tr>
                <th>Version</th>
                <th>Brought</th>
                <th>When</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="m in kept.migrations" :key="m.version">
                <td class="num">{{ m.version }}</td>
                <td>{{ m.name }}</td>
                <td>{{ dateTime(m.at) }}</td>
              </tr>
            </tbody>
          </table>
        </details>
      </section>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(27rem, 100%), 1fr));
  gap: 28px 40px;
  align-items: start;
}
.trials {
  list-style: none;
  margin: 0;
  padding: 0;
}
.trials li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  border-top: var(--line) solid var(--grain);
}
.trials span {
  flex: 1 1 14rem;
}
summary {
  cursor: pointer;
  text-decoration: underline;
}
.trials a,
summary,
p > a:not(.way) {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
