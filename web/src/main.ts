import '@fontsource-variable/atkinson-hyperlegible-mono'
import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource/zilla-slab/latin-600.css'
import '@fontsource/zilla-slab/latin-700.css'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import PrimeVue from 'primevue/config'
import { createApp } from 'vue'
import { Refused } from './api/client'
import App from './App.vue'
import { router } from './router'
import './ui/base.css'
import { slowThumbs } from './ui/press'
import { preset } from './ui/preset'
import './ui/tokens.css'
import { hearFailures } from './ui/unsaid'

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      shallow: true, // an answer is replaced, never changed: what reads it need not watch each of its fields
      // A refusal stays one; only an unreachable server is asked again.
      retry: (n, e) => n < 3 && e instanceof Refused && (e.problem.status === 0 || e.problem.status >= 502),
    },
  },
})

const app = createApp(App)
hearFailures(app, window)
app
  .use(router)
  .use(VueQueryPlugin, { queryClient: client })
  .use(PrimeVue, {
    ripple: false,
    theme: {
      preset,
      options: {
        darkModeSelector: '[data-theme="night"]',
        cssLayer: { name: 'primevue', order: 'base, primevue, app' },
      },
    },
  })
  .mount('#app')

slowThumbs(document)

// Also while the barn is away; only a secure page may, and none while it is being written.
if (import.meta.env.PROD && 'serviceWorker' in navigator)
  void navigator.serviceWorker
    .register('/sw.js')
    .then(() => navigator.serviceWorker.ready)
    .then((r) => r.active?.postMessage('parts'))
    .catch(() => undefined) // the guests' port gives none, and all works without
