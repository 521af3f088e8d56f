<template>
  <div class="page stack">
    <h1>Nothing hangs here</h1>
    <RouterLink to="/">Back to the barn</RouterLink>
  </div>
</template>
