<script setup lang="ts">
import Button from 'primevue/button'

/** Takes a line out; what says in words what goes. */
defineProps<{ what: string }>()
</script>

<template>
  <Button text size="small" :aria-label="what"><span aria-hidden="true">×</span></Button>
</template>
