<script setup lang="ts">
import type { VersionView } from '../api/schema.gen'

/** Each version against the one before it: what is done otherwise. */
defineProps<{ versions: VersionView[] }>()
</script>

<template>
  <div class="board" data-testid="differences">
    <template v-for="(v, i) in versions" :key="v.id">
      <div v-if="i > 0">
        <h2>Version {{ v.number }} against {{ versions[i - 1]!.number }}</h2>
        <p v-if="v.differences.length === 0" class="soot">Nothing that is done differs.</p>
        <table v-else>
          <thead>
            <tr>
              <th>what</th>
              <th>was</th>
              <th>is</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="d in v.differences" :key="d.what">
              <td>
                <b>{{ d.what }}</b>
              </td>
              <td>{{ d.was || 'nothing' }}</td>
              <td>{{ d.is || 'nothing' }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="v.differences.length > 1" class="small watch triangle">
          More than one thing changed: what comes of it cannot be told apart.
        </p>
      </div>
    </template>
  </div>
</template>

<style scoped>
.watch {
  color: var(--watch);
}
</style>
