<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok, Refused } from '../api/client'
import { useSession } from '../session/session'
import KeyCap from '../ui/KeyCap.vue'
import { useKeys } from '../ui/keys'
import ProblemNote from '../ui/ProblemNote.vue'
import { date, span } from '../ui/time'
import { title } from '../ui/title'
import { sentence } from '../ui/units'
import { useCard } from './card'
import CardBodyView from './CardBodyView.vue'
import CompareVersions from './CompareVersions.vue'
import FailDialog from './FailDialog.vue'
import FollowedPanel from './FollowedPanel.vue'
import PhaseRail from './PhaseRail.vue'
import ReasonAsked from './ReasonAsked.vue'

/** One process: its versions, what the one in force says, who stands by it, and how its cooks went. */
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { person, isPitmaster } = useSession()
const id = computed(() => Number(route.params.id))
const { data: card, error } = useCard(id)
watchEffect(() => (title.value = card.value?.name ?? ''))
const shown = ref<number | null>(null)
const version = computed(() => card.value?.versions.find((v) => v.id === (shown.value ?? card.value?.in_force)))
const inForce = computed(() => version.value?.id === card.value?.in_force && !version.value?.failed_at)
const me = computed(() => person.value?.id)
const signed = computed(() => version.value?.signed ?? [])
const mine = computed(() => signed.value.some((s) => s.person_id === me.value))
const { busy, problem, run } = useAct()
const again = () => client.invalidateQueries({ queryKey: ['book'] })
async function sign() {
  if (!version.value) return
  await run(() => ok(api.POST('/api/book/versions/{id}/sign', { params: { path: { id: version.value!.id } } })))
  await again()
}
const reopening = ref(false)
async function unsign(why: string) {
  reopening.value = false
  await run(() =>
    ok(api.POST('/api/book/versions/{id}/unsign', { params: { path: { id: version.value!.id } }, body: { why } })),
  )
  await again()
}
const failing = ref(false)
const comparing = ref(false)
async function cook() {
  if (!version.value) return
  const made = await run(() =>
    ok(
      api.POST('/api/book/versions/{id}/cook', { params: { path: { id: version.value!.id } }, body: { question: '' } }),
    ),
  )
  if (made) await router.push(`/trials/${made.trial_id}/match`)
}
async function reopen() {
  const made = await run(() => ok(api.POST('/api/book/cards/{id}/reopen', { params: { path: { id: id.value } } })))
  if (made) await router.push(`/trials/${made.trial_id}/ask`)
}
useKeys((key, e) => {
  if (!card.value) return
  if (key === 'p') return (void router.push(`/book/cards/${id.value}/wall`), true)
  if (key === 'y' && version.value?.trial_id)
    return (void router.push(`/trials/${version.value.trial_id}/settle`), true)
  if (key === 'q' && card.value.reopen && isPitmaster.value) return (void reopen(), true)
  if (key === 'Enter' && e.target === document.body && inForce.value && isPitmaster.value) return (void cook(), true)
})
</script>

<template>
  <div v-if="error instanceof Refused" class="page"><ProblemNote :problem="error.problem" /></div>
  <template v-else-if="card && version">
    <div class="top">
      <div class="row first">
        <div class="name">
          <RouterLink to="/book" class="small back">House Book</RouterLink>
          <h1>{{ card.name }}</h1>
          <p :class="{ watch: card.watch, triangle: card.watch }" data-testid="card-state">
            <b>{{ sentence(card.state) }}</b>
          </p>
        </div>
        <div class="row push no-print">
          <Button v-if="version.trial_id" outlined @click="router.push(`/trials/${version.trial_id}/settle`)"
            >Ask why <KeyCap>Y</KeyCap></Button
          >
          <a class="markdown" :href="`/api/book/versions/${card.in_force}/card.md`" data-testid="card-markdown"
            >Markdown</a
          >
          <Button outlined data-testid="wall" @click="router.push(`/book/cards/${card.id}/wall`)"
            >Print <KeyCap>P</KeyCap></Button
          >
          <Button
            v-if="isPitmaster && inForce"
            outlined
            label="Ask against it"
            @click="router.push(`/trials/new?card=${version.id}`)"
          />
          <Button v-if="isPitmaster && inForce" :loading="busy" data-testid="cook-this" @click="cook"
            >Cook this <KeyCap>Enter</KeyCap></Button
          >
        </div>
      </div>
      <div class="versions" role="group" aria-label="Versions">
        <button
          v-for="v in card.versions"
          :key="v.id"
          type="button"
          :class="{ failed: v.failed_at, force: v.id === card.in_force }"
          :aria-pressed="v.id === version.id"
          :data-testid="`version-${v.number}`"
          @click="shown = v.id"
        >
          <b>v{{ v.number }}</b> {{ v.changed || v.title }}
          <span class="small">
            <template v-if="v.failed_at"
              ><b>✕ Failed: {{ v.fault }}.</b> {{ v.failed_why }}</template
            >
            <template v-else>{{ date(v.recorded_at) }}{{ v.why ? `. Why: ${v.why}` : '' }}</template>
          </span>
        </button>
        <span v-if="card.cooks.length" class="since"
          ><b>{{ card.cooks.length }} cooks since</b
          ><span class="small soot"
            >{{ date(card.cooks[0]!.served_at) }} to {{ date(card.cooks[card.cooks.length - 1]!.served_at) }}</span
          ></span
        >
      </div>
      <div class="row small no-print">
        <Button
          v-if="card.versions.length > 1"
          label="Compare versions"
          size="small"
          text
          data-testid="compare"
          @click="comparing = !comparing"
        />
        <Button
          v-if="isPitmaster && !version.failed_at"
          label="It failed"
          size="small"
          text
          data-testid="it-failed"
          @click="failing = true"
        />
        <span v-if="version.lever" class="soot">What the cook model ranks first against it: {{ version.lever }}.</span>
        <RouterLink v-for="t in card.open" :key="t" :to="`/trials/${t}/fire`">Being cooked: trial {{ t }}</RouterLink>
      </div>
      <ProblemNote v-if="problem" :problem="problem" />
      <CompareVersions v-if="comparing" :versions="card.versions" />
    </div>
    <div class="sheet" :class="{ lone: card.measures.length === 0 }">
      <section class="hung">
        <PhaseRail :steps="version.body.steps" />
        <CardBodyView :body="version.body" />
        <div class="foot">
          <div>
            <p>
              <b data-testid="says">{{ version.body.evidence.says }}</b>
              {{ version.body.evidence.trials === 1 ? 'One trial' : `${version.body.evidence.trials} trials` }},
              {{ version.body.evidence.cooks }} cooks, {{ version.body.evidence.cuts }} cuts,
              {{ version.body.evidence.tasters }} tasters.
            </p>
            <p v-if="version.body.evidence.size">{{ version.body.evidence.size }}.</p>
            <p v-if="version.body.evidence.but" class="small watch triangle">
              {{ sentence(version.body.evidence.but) }}
            </p>
          </div>
          <div class="hands">
            <span v-for="s in signed" :key="s.id" class="hand" data-testid="signature"
              ><b>{{ s.name }}</b
              ><span class="small soot">signed {{ date(s.signed_at) }}</span></span
            >
            <Button
              v-if="!mine && !version.failed_at"
              class="no-print"
              :outlined="signed.length > 0"
              label="Sign"
              :loading="busy"
              data-testid="sign"
              @click="sign"
            />
            <Button
              v-if="signed.length && isPitmaster"
              class="no-print"
              size="small"
              text
              label="Open it again"
              @click="reopening = true"
            />
          </div>
        </div>
      </section>
      <FollowedPanel v-if="card.measures.length" :card="card" :may-ask="isPitmaster" :busy="busy" @reopen="reopen" />
      <aside v-else class="none">
        <h2>Following it</h2>
        <p>
          Each later cook is checked for yield, length, score and hold. Limits stand once six are cooked; a point out
          asks what was different.
        </p>
        <p v-if="version.body.hours" class="soot">
          It takes {{ span(version.body.hours.middle) }} from on to the pull.
        </p>
      </aside>
    </div>
    <FailDialog v-model="failing" :version="version.id" @done="again" />
    <ReasonAsked
      v-model="reopening"
      header="Open it again"
      says="Its hands are taken off; the record keeps that they were there, and why."
      action="Open it again"
      @reason="unsign"
    />
  </template>
</template>

<style scoped>
.top {
  padding: 10px 16px;
  display: grid;
  gap: 8px;
}
.back {
  display: none;
}
.name {
  flex: 1 1 420px;
}
.watch {
  color: var(--watch);
}
.versions {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
  align-items: stretch;
}
.versions button {
  all: unset;
  cursor: pointer;
  flex: 1 1 240px;
  padding: 4px 0 10px;
  border-bottom: 9px solid var(--ink);
  min-height: 44px;
}
.versions button.failed {
  border-bottom: 3px solid var(--ink);
  box-shadow: inset 0 -9px 0 var(--board);
}
.versions button:focus-visible {
  outline: 3px solid var(--focus);
}
.versions button[aria-pressed='true'] {
  background: var(--trough);
}
.versions button .small {
  display: block;
}
.since {
  display: flex;
  flex-direction: column;
  text-align: right;
}
.sheet {
  display: grid;
  grid-template-columns: minmax(0, 1.38fr) minmax(0, 1fr);
  border-top: var(--line-strong) solid var(--ink);
}
.hung {
  background: var(--board);
  padding: 10px 16px;
  border-right: var(--line-strong) solid var(--ink);
  min-width: 0;
}
.foot {
  border-top: var(--line-strong) solid var(--ink);
  margin: 10px -16px -10px;
  padding: 10px 16px;
  background: var(--lime);
  display: flex;
  gap: 16px;
  justify-content: space-between;
  flex-wrap: wrap;
}
.hands {
  display: flex;
  gap: 14px;
  align-items: flex-end;
}
.hand {
  display: flex;
  flex-direction: column;
  border-bottom: var(--line) solid var(--ink);
  font: 700 18px var(--font-head);
}
.none {
  padding: 14px 16px;
  display: grid;
  gap: 8px;
  align-content: start;
}
@media (max-width: 1000px) {
  .sheet {
    grid-template-columns: minmax(0, 1fr);
  }
  .hung {
    border-right: 0;
  }
  .since {
    text-align: left;
  }
}
</style>
