<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { Doorway } from '../api/schema.gen'
import ProblemNote from '../ui/ProblemNote.vue'

/** A guest sits down by a code: what is in it first, then a name; no account. */
const router = useRouter()
const given = String(useRoute().params.code ?? '')
const code = ref(given)
const door = ref<Doorway | null>(null)
const name = ref('')
const remember = ref(false)
const consent = ref(false)
const acting = useAct()
async function knock() {
  const text = code.value.replace(/[\s-]/g, '')
  const v = await acting.run(() => ok(api.GET('/api/join/{code}', { params: { path: { code: text } } })))
  if (!v) return
  door.value = v
  if (v.known) {
    name.value = v.known
    remember.value = true
  }
}
if (given) void knock()
const like = computed(() => acting.fault('stranger'))
async function sit(stranger = false) {
  const body = { code: code.value, name: name.value, stranger, consent: consent.value, remember: remember.value }
  const v = await acting.run(() => ok(api.POST('/api/join', { body })))
  if (v) await router.replace(v.path)
}
</script>

<template>
  <main class="join stack">
    <h1>A seat at the table</h1>
    <p>No account is needed. You read what may be in it, choose a name, and taste by numbers.</p>
    <form v-if="!door" class="stack" @submit.prevent="knock">
      <label
        >The six letters on the card
        <input
          v-model="code"
          class="num code"
          maxlength="9"
          autocapitalize="characters"
          autocomplete="off"
          data-testid="door-code"
      /></label>
      <ProblemNote :problem="acting.problem.value" />
      <button type="submit" class="go" :disabled="acting.busy.value" data-testid="knock">Come in</button>
      <p class="soot small">They stand on the table's card, or on the screen of who seats you.</p>
    </form>
    <form v-else class="stack" @submit.prevent="sit()">
      <p v-if="door.allergens.length" class="warn triangle">
        <b>Any sample of {{ door.product }} may hold {{ door.allergens.join(', ') }}.</b>
      </p>
      <p v-else>You taste {{ door.product }}. No allergens are named: ask if you must avoid something.</p>
      <label
        >What are you called here? <input v-model="name" maxlength="40" autocomplete="off" data-testid="guest-name"
      /></label>
      <label class="tick"
        ><input v-model="consent" type="checkbox" data-testid="consent" /> I read what may be in it, and want to
        taste</label
      >
      <label class="tick"
        ><input v-model="remember" type="checkbox" data-testid="remember" /> Know me again on this phone, so that I can
        see how I taste over time</label
      >
      <div v-if="like" class="stack" role="alert">
        <b>{{ like.problem }}.</b>
        <button type="button" class="go" data-testid="stranger" @click="sit(true)">I am somebody else</button>
        <span class="soot small">If it is you, sign in first, or have the pitmaster seat you.</span>
      </div>
      <ProblemNote v-else :problem="acting.problem.value" />
      <button
        v-if="!like"
        type="submit"
        class="go"
        :disabled="acting.busy.value || !name.trim() || !consent"
        data-testid="sit"
      >
        Sit down
      </button>
    </form>
  </main>
</template>

<style scoped>
.join {
  max-width: 480px;
  margin: 0 auto;
  min-height: 100vh;
  padding: 24px 16px;
  background: var(--lime);
}
input:not([type]) {
  display: block;
  width: 100%;
  min-height: 56px;
  font: inherit;
  font-size: 20px;
  padding: 0 12px;
  border: 2px solid var(--ink);
  background: var(--board);
  color: inherit;
  margin-top: 6px;
}
.code {
  text-transform: uppercase;
  letter-spacing: 0.15em;
}
.tick {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 56px;
}
.tick input {
  width: 28px;
  height: 28px;
  flex: none;
}
.go {
  min-height: 56px;
  border: 2px solid var(--ink);
  border-radius: var(--r-2);
  background: var(--ink);
  color: var(--board);
  font-size: 19px;
  font-weight: 700;
}
.go:disabled {
  background: var(--board);
  color: var(--soot);
  border: 2.5px dashed var(--edge);
}
</style>
