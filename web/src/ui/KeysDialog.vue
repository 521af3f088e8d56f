<script setup lang="ts">
import Dialog from 'primevue/dialog'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { order, words } from '../guide/pages'
import KeyCap from './KeyCap.vue'
import { keys } from './keylist'

/** Keys and words of this page, and the way to its page in the guide. */
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ pictures: [] }>()
const route = useRoute()
const page = computed(() => route.path.split('/').pop() ?? '')
const lists = computed(() => [page.value, 'anywhere'].filter((k) => keys[k]))
const here = computed(() => words.filter((w) => w.page === page.value))
const guide = computed(() => ((order as readonly string[]).includes(page.value) ? page.value : 'start'))
const name = (p: string) => p[0]!.toUpperCase() + p.slice(1)
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Keys and words" :style="{ width: 'min(44rem, 96vw)' }">
    <p class="guide">
      <RouterLink :to="`/guide/${guide}`" @click="shown = false">Guide to this page</RouterLink>
      <RouterLink to="/guide/words" @click="shown = false">All the words</RouterLink>
      <button type="button" class="link" data-testid="pictures-of" @click="((shown = false), emit('pictures'))">
        Pictures of this page
      </button>
    </p>
    <section v-if="here.length" data-testid="words">
      <h3>Words</h3>
      <dl>
        <template v-for="w in here" :key="w.word">
          <dt>{{ w.word }}</dt>
          <dd>{{ w.means }}</dd>
        </template>
      </dl>
    </section>
    <section v-for="k in lists" :key="k">
      <h3>{{ k === 'anywhere' ? 'Keys anywhere' : `Keys of ${name(k)}` }}</h3>
      <p v-for="[key, what] in keys[k]" :key="key">
        <KeyCap>{{ key }}</KeyCap> {{ what }}
      </p>
    </section>
    <p class="soot small">Letters act while no field has focus. They can be turned off under your name.</p>
  </Dialog>
</template>

<style scoped>
section {
  margin-bottom: 16px;
}
p {
  padding: 4px 0;
}
.guide {
  display: flex;
  gap: 24px;
}
.link {
  border: 0;
  background: none;
  padding: 0;
  text-decoration: underline;
  cursor: pointer;
}
.guide a,
.link {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0 0 6px;
}
</style>
