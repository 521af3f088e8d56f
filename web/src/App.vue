<script setup lang="ts">
import { useLocalStorage, useNow, usePreferredDark } from '@vueuse/core'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, nextTick, ref, watch, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { api, ok } from './api/client'
import { useMissing } from './api/missing'
import { heardAt, useStream, wire } from './api/stream'
import FirstRun from './session/FirstRun.vue'
import { useSession } from './session/session'
import SignIn from './session/SignIn.vue'
import BarnMark from './ui/BarnMark.vue'
import { useKeys } from './ui/keys'
import KeysDialog from './ui/KeysDialog.vue'
import { notKept } from './ui/kept'
import PicturesDialog from './ui/PicturesDialog.vue'
import ProblemNote from './ui/ProblemNote.vue'
import { Going } from './ui/strokes'
import { title } from './ui/title'
import { unsaid } from './ui/unsaid'
import { useOwnUnits } from './session/units'
import { Refused, whenSignedOut } from './api/client'
import { steps } from './router'
import { system, weights } from './ui/settings'

const { session, error, person, renew } = useSession()
const route = useRoute()
const client = useQueryClient()
// A session that ended elsewhere shows its door, not an empty page.
whenSignedOut(() => void client.invalidateQueries({ queryKey: ['session'] }))
useStream(
  client,
  computed(() => person.value !== null && !route.meta.taster),
)
const missing = useMissing(client)
const router = useRouter()
useOwnUnits()
/** Both at once; of one's own mixture neither. */
const units = computed({
  get: () => ((system.value === 'F') === (weights.value === 'lb') ? system.value : null),
  set: (u: 'F' | 'C') => {
    system.value = u
    weights.value = u === 'F' ? 'lb' : 'kg'
  },
})
// The system's own setting holds until a hand chooses.
const dark = usePreferredDark()
const chosen = useLocalStorage<'day' | 'night' | ''>('barn.theme', '')
const theme = computed({
  get: () => chosen.value || (dark.value ? 'night' : 'day'),
  set: (t: 'day' | 'night') => (chosen.value = t),
})
watchEffect(() => {
  document.documentElement.dataset.theme = theme.value
  const ground = theme.value === 'night' ? '#120E0C' : '#F1F4F0'
  document.querySelector('meta[name=theme-color]')?.setAttribute('content', ground)
})
const place = computed(() => {
  const last = route.path.split('/').filter(Boolean).pop() ?? 'barn'
  return route.params.id && !/^\d+$/.test(last)
    ? last[0]!.toUpperCase() + last.slice(1).replace('-', ' ')
    : (route.meta.title ?? '')
})
watchEffect(() => (document.title = [place.value, title.value, 'White Barn'].filter(Boolean).join(' · ')))

const minute = useNow({ interval: 10_000 })
/** While the barn is away: how old what is shown may be. */
const away = computed(() => {
  if (!person.value || wire.value !== 'cut off') return ''
  const min = Math.round((+minute.value - heardAt.value) / 60_000)
  const age =
    heardAt.value === 0
      ? 'from before'
      : min < 1
        ? 'under a minute old'
        : min < 120
          ? `${min} min old`
          : `${Math.round(min / 60)} h old`
  return `The barn is away. What is shown is ${age}; it comes back by itself.`
})
/** What was typed on other pages and waits there. */
const elsewhere = computed(() => notKept.value.filter((k) => k.path !== route.fullPath))
const menu = ref(false)
const keysShown = ref(false)
const pictures = ref(false)
watch(
  () => route.fullPath,
  () => (menu.value = false),
)

// Whoever was signed out, here or from elsewhere, leaves nothing of the barn's answers behind.
watch(
  () => session.value && !person.value,
  (out) => out && navigator.serviceWorker?.controller?.postMessage('forget'),
)

const unreachable = computed(() => (error.value instanceof Refused ? error.value.problem : null))

// g, then a letter or a number, goes somewhere.
const going = new Going()
useKeys((key, e) => {
  const trial = route.params.id ? String(route.params.id) : undefined
  const { ours, to } = going.hear(key, trial, steps)
  if (to) void router.push(to)
  if (ours) return true
  if (key === '?') return (keysShown.value = true)
  if (key === 'n' && e.shiftKey) return (void (theme.value = theme.value === 'day' ? 'night' : 'day'), true)
})

// A step that opens takes the focus, so that the next Tab is of the page and not of the top line.
const main = ref<HTMLElement | null>(null)
const skip = () => main.value?.focus()
watch(
  () => route.path,
  (now, was) => {
    if (now !== was) unsaid.value = null
    if (was && now !== was && !route.meta.taster) void nextTick(skip)
  },
)

async function signOut() {
  await ok(api.DELETE('/api/session'))
  await renew()
  await router.push('/')
}
</script>

<template>
  <RouterView v-if="route.meta.taster" />
  <template v-else>
    <a class="skip no-print" href="#main" @click.prevent="skip">To the page</a>
    <header class="top no-print">
      <RouterLink to="/" class="home" aria-label="White Barn, to the barn"
        ><BarnMark /> <span>White Barn</span></RouterLink
      >
      <strong v-if="title" class="title">{{ title }}</strong>
      <span v-if="person && elsewhere.length" class="not-kept" role="status" data-testid="not-kept">
        Not saved yet:
        <RouterLink v-for="k in elsewhere" :key="k.path" :to="k.path">{{ k.name }}</RouterLink>
      </span>
      <Button class="menu-button" label="Menu" size="small" outlined :aria-expanded="menu" @click="menu = !menu" />
      <nav :class="{ shown: menu }" aria-label="Places">
        <template v-if="person">
          <RouterLink to="/">Barn</RouterLink>
          <RouterLink to="/pits">Pits</RouterLink>
          <RouterLink to="/pantry">Pantry</RouterLink>
          <RouterLink to="/bench">Bench</RouterLink>
          <RouterLink to="/book">House Book</RouterLink>
          <RouterLink to="/crew">Crew</RouterLink>
          <RouterLink to="/records">Records</RouterLink>
          <Button
            label="Help"
            size="small"
            text
            aria-label="Help: keys and words of this page"
            @click="keysShown = true"
          />
        </template>
        <SelectButton
          v-model="units"
          :options="[
            { label: 'F lb', value: 'F' },
            { label: 'C kg', value: 'C' },
          ]"
          option-label="label"
          option-value="value"
          :allow-empty="false"
          aria-label="Units"
          data-testid="units"
        />
        <SelectButton
          v-model="theme"
          :options="[
            { label: 'Day', value: 'day' },
            { label: 'Night', value: 'night' },
          ]"
          option-label="label"
          option-value="value"
          :allow-empty="false"
          aria-label="Light"
          data-testid="theme"
        />
        <template v-if="person">
          <RouterLink to="/you" data-testid="you">{{ person.name }}</RouterLink>
          <Button data-testid="sign-out" label="Sign out" size="small" text @click="signOut" />
        </template>
      </nav>
    </header>
    <p v-if="away" class="away no-print" role="status" data-testid="away">{{ away }}</p>
    <p v-if="away && missing" class="away no-print" role="status" data-testid="never-here">
      What this page shows was not all opened on this device before: for the rest it needs the barn. Come near its
      network, and it comes by itself.
    </p>
    <p v-if="session?.room.words" class="away no-print" role="status" data-testid="room">
      {{ session.room.words }} {{ session.room.remedy }}
    </p>
    <div v-if="unsaid" class="away row no-print" role="alert" data-testid="unsaid">
      <ProblemNote :problem="unsaid" />
      <Button class="push" size="small" outlined label="Close" @click="unsaid = null" />
    </div>
    <main id="main" ref="main" tabindex="-1">
      <div v-if="unreachable && !session" class="page"><ProblemNote :problem="unreachable" /></div>
      <FirstRun v-else-if="session?.first_run" @done="renew" />
      <RouterView v-else-if="session && route.meta.open" />
      <SignIn v-else-if="session && !person" @done="renew" />
      <RouterView v-else-if="session" />
    </main>
    <KeysDialog v-model="keysShown" @pictures="pictures = true" />
    <PicturesDialog v-model="pictures" />
  </template>
</template>

<style scoped>
.skip {
  position: absolute;
  z-index: 30;
  left: 8px;
  top: -60px;
  padding: 12px 16px;
  background: var(--board);
  border: 2px solid var(--ink);
}
.skip:focus {
  top: 4px;
}
main:focus {
  outline: none;
}
.top {
  display: flex;
  align-items: center;
  gap: 16px;
  height: 44px;
  padding: 0 16px;
  background: var(--board);
  border-bottom: var(--line) solid var(--grain);
}
.home {
  display: flex;
  align-items: center;
  gap: 8px;
  font: 700 19px var(--font-head);
  text-decoration: none;
  white-space: nowrap;
}
nav :deep(.p-selectbutton) {
  flex-wrap: nowrap;
}
.title {
  min-width: 0;
  font-size: var(--t-md);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  border-left: var(--line) solid var(--grain);
  padding-left: 16px;
}
.not-kept {
  display: flex;
  gap: 8px;
  padding: 2px 8px;
  background: var(--watch-wash);
  color: var(--watch);
  font-size: var(--t-sm);
  font-weight: 700;
  white-space: nowrap;
}
.not-kept a {
  color: inherit;
}
.away {
  padding: 6px 16px;
  background: var(--watch-wash);
  color: var(--watch);
  font-weight: 700;
}
nav {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 14px;
  white-space: nowrap;
}
nav a {
  text-decoration: none;
  padding: 10px 2px;
}
nav a.router-link-exact-active {
  font-weight: 700;
  box-shadow: inset 0 -3px var(--ink);
}
.menu-button {
  display: none;
}
@media (max-width: 900px) {
  .top {
    --touch: 44px;
  }
  .home {
    min-width: 44px;
    min-height: 44px;
  }
  .menu-button {
    min-height: 44px;
    display: inline-flex;
    margin-left: auto;
    flex: none;
  }
  .home span {
    display: none;
  }
  nav {
    display: none;
  }
  nav.shown {
    display: flex;
    flex-direction: column;
    align-items: flex-start;
    position: absolute;
    z-index: 20;
    top: 44px;
    left: 0;
    right: 0;
    background: var(--board);
    padding: 16px;
    border-bottom: var(--line-strong) solid var(--ink);
  }
}
</style>
