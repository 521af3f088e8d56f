<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { until } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { useCrew } from '../crew/people'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import { useThisTrial } from '../trial/trial'
import { useUndo } from '../trial/undo'
import ProblemNote from '../ui/ProblemNote.vue'
import { useLinks } from './links'
import PlaceCard from './PlaceCard.vue'

/** Who sits at the table, and the door by which guests seat themselves. */
const { trial, set, shut } = useThisTrial()
const { isPitmaster } = useSession()
const { links, linkOf, renew } = useLinks()
const people = useCrew()
const { voided } = useUndo()
const seating = useAct()
const name = ref('')
const path = computed(() => ({ path: { id: trial.value.id } }))
const plain = (s: string) => s.trim().toLowerCase()
const first = (s: string) => plain(s).split(/[^\p{L}]+/u)[0]
/** Of the crew, who is not at the table yet. */
const free = computed(() => people.value?.filter((p) => !trial.value.tasters.some((t) => t.person_id === p.id)) ?? [])
/** Who of the crew the typed name may be. */
const like = computed(() =>
  seating.fault('stranger') ? people.value?.find((p) => first(p.name) === first(name.value)) : undefined,
)
async function seat(person?: number, stranger = false) {
  const typed = name.value
  name.value = '' // taken: the next can be typed; what is refused comes back
  const v = await seating.run(async () => {
    // Whose name it is the crew's list says: one typed before it came waits for it a little.
    if (!people.value) await until(people).toBeTruthy({ timeout: 5000 })
    const known = person ?? people.value?.find((p) => plain(p.name) === plain(typed))?.id
    const body = { name: typed, person_id: stranger ? null : (known ?? null), stranger }
    return ok(api.POST('/api/trials/{id}/tasters', { params: path.value, body }))
  })
  if (!v && !name.value) name.value = typed
  set(v)
}
async function unseat(id: number) {
  const who = trial.value.tasters.find((t) => t.id === id)!.name
  const v = await seating.run(() =>
    ok(api.POST('/api/tasters/{id}/void', { params: { path: { id } }, body: { why: 'left the table' } })),
  )
  if (v) voided('taster', id, `${who} left the table`)
  set(v)
}
const freePhone = async (id: number) =>
  set(
    await seating.run(() =>
      ok(api.POST('/api/tasters/{id}/free', { params: { path: { id } }, body: { why: 'changed phones' } })),
    ),
  )
async function door(open: boolean) {
  const v = await seating.run(() =>
    open
      ? ok(api.POST('/api/trials/{id}/door', { params: path.value }))
      : ok(api.POST('/api/trials/{id}/door/shut', { params: path.value })),
  )
  if (!v) return
  set(v)
  await renew()
}
const code = computed(() => links.value?.door ?? '')
const spaced = computed(() => `${code.value.slice(0, 3)} ${code.value.slice(3)}`)
const at = computed(() => location.host)
</script>

<template>
  <ProblemNote v-if="!like" :problem="seating.problem.value" />
  <div class="seats">
    <PlaceCard
      v-for="t in trial.tasters"
      :key="t.id"
      :taster="t"
      :ballots="trial.ballots.filter((b) => b.taster_id === t.id)"
      :link="linkOf(t.id)"
      :pitmaster="isPitmaster"
      :shut="shut"
      @leave="unseat(t.id)"
      @free="freePhone(t.id)"
    />
    <form v-if="!shut" class="seat-new" @submit.prevent="seat()">
      <div class="row nowrap">
        <InputText
          v-model="name"
          data-field="name"
          list="crew-names"
          placeholder="Name of a taster"
          aria-label="Name of a taster"
          data-testid="taster-name"
          @input="seating.problem.value = null"
        />
        <datalist id="crew-names"><option v-for="p in free" :key="p.id" :value="p.name" /></datalist>
        <Button type="submit" label="Seat" data-testid="seat" />
      </div>
      <div v-if="like" class="row" role="alert" data-testid="who-is-it">
        <span
          >Is this <b>{{ like.name }}</b> of the crew?</span
        >
        <Button size="small" :label="`Yes, ${like.name}`" data-testid="is-crew" @click="seat(like.id)" />
        <Button size="small" outlined label="Somebody else" data-testid="is-stranger" @click="seat(undefined, true)" />
      </div>
      <p v-else class="soot small">Of the crew, or a guest.</p>
    </form>
    <article v-if="code && !shut" class="door board" data-testid="door">
      <img
        :src="`/api/trials/${trial.id}/door.png`"
        width="116"
        height="116"
        alt="Code of the page on which guests seat themselves"
      />
      <div>
        <span class="soot small">Guests, without an account</span>
        <b class="num code">{{ spaced }}</b>
        <p class="small">Scan it, or type it at {{ at }}/join. They read the allergens and choose a name.</p>
        <Button
          v-if="isPitmaster"
          class="no-print"
          size="small"
          text
          label="Let no more in"
          data-testid="shut-door"
          @click="door(false)"
        />
      </div>
    </article>
  </div>
  <Button
    v-if="!code && !shut && isPitmaster"
    class="let-in"
    label="Let guests in by a code"
    size="small"
    outlined
    data-testid="open-door"
    @click="door(true)"
  />
</template>

<style scoped>
.seats {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 12px;
}
.seat-new {
  border: 2.5px dashed var(--edge);
  padding: 14px;
  display: flex;
  flex-direction: column;
  justify-content: center;
  gap: 8px;
  min-height: 116px;
}
.seat-new :deep(input) {
  min-width: 0;
  flex: 1;
}
.seat-new p {
  margin: 0;
}
.nowrap {
  flex-wrap: nowrap;
}
.door {
  display: flex;
  gap: 12px;
  padding: 12px;
  border: var(--line-strong) solid var(--ink);
  grid-column: span 2;
}
.door img {
  image-rendering: pixelated;
}
.door .code {
  display: block;
  font-size: 34px;
  line-height: 1.15;
}
.door p {
  margin: 0;
}
.let-in {
  align-self: flex-start;
}
@media (max-width: 600px) {
  .door {
    grid-column: auto;
  }
}
</style>
