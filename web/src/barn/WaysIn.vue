<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'

/** An empty barn: the ways to begin. */
const { isPitmaster } = useSession()
const { data: catalogue } = useQuery({ queryKey: ['catalogue'], queryFn: () => ok(api.GET('/api/catalogue')) })
const usual = computed(() => catalogue.value?.templates ?? [])
</script>

<template>
  <div class="ways" data-testid="ways-in">
    <svg width="120" height="90" viewBox="0 0 120 90" aria-hidden="true">
      <path d="M10 40 60 8l50 32v44H10z" fill="none" stroke="var(--edge)" stroke-width="3" stroke-dasharray="6 5" />
      <path d="M48 36h24v18H48zM60 36v18" fill="none" stroke="var(--edge)" stroke-width="3" />
    </svg>
    <p v-if="!isPitmaster">Nothing was asked here yet. A pitmaster asks the first question.</p>
    <ol>
      <li v-if="isPitmaster">
        <h3>Ask a usual question</h3>
        <p class="soot">Arms, what is held equal and what counts are filled in; change the words to yours.</p>
        <p class="row">
          <RouterLink
            v-for="t in usual"
            :key="t.key"
            class="way"
            :to="`/trials/new?template=${t.key}`"
            :data-testid="`way-${t.key}`"
            >{{ t.ask.question }}</RouterLink
          >
        </p>
      </li>
      <li>
        <h3>Look around a demo beside it</h3>
        <p class="soot">
          On this machine, in another window: <b class="num">whitebarn demo -addr 127.0.0.1:8081</b>. It has made-up
          trials at every step and a fire that burns, in a folder of its own; nothing here is touched.
        </p>
      </li>
      <li>
        <h3>Write up an old cook</h3>
        <p class="soot">
          One page of a notebook becomes a trial: arms, cuts, a few times and temperatures, weights and scores. It
          teaches the house how much cuts differ, and never says more than leaning.
        </p>
        <p v-if="isPitmaster" class="row">
          <RouterLink class="way" to="/notebook" data-testid="way-notebook">Write one up</RouterLink>
        </p>
      </li>
      <li>
        <h3>Read the guide</h3>
        <p class="soot"><RouterLink to="/guide">The first evening, step by step</RouterLink>, with pictures.</p>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.ways {
  padding: 16px 0;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 14px 0;
  border-top: var(--line) solid var(--edge);
}
p.row {
  margin-top: 8px;
}
</style>
