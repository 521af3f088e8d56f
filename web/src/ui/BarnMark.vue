<template>
  <svg width="28" height="28" viewBox="0 0 32 32" aria-hidden="true">
    <path d="M3 14 16 4.5 29 14v14H3z" fill="var(--board)" stroke="var(--ink)" stroke-width="2.5" />
    <path d="M11 28V18h10v10" fill="none" stroke="var(--ink)" stroke-width="2.5" />
    <path d="M13 10.5h6v4h-6z" fill="var(--grain)" stroke="var(--ink)" stroke-width="1.5" />
  </svg>
</template>
