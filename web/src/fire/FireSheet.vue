<template>
  <!-- Opens over the lanes, above the pads, which stay in reach. -->
  <div class="sheet" role="group"><slot /></div>
</template>

<style scoped>
.sheet {
  position: absolute;
  z-index: 4;
  left: 0;
  right: 0;
  bottom: 100%;
  max-height: 60dvh;
  overflow-y: auto;
  padding: 10px 16px;
  background: var(--trough);
  border-top: var(--line-strong) solid var(--ink);
}
.sheet :deep(button) {
  min-height: 48px;
}
.sheet.tall {
  max-height: 84dvh;
}
@media (max-height: 500px) {
  .sheet {
    position: fixed;
    bottom: 0;
    top: auto;
    right: 50vw;
  }
}
</style>
