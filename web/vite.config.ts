import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'
import { guide } from './guide.ts'

/** Lists what is built but for the guide's pictures, for the service worker to keep: pages never opened before open offline too. */
const listed: Plugin = {
  name: 'parts',
  generateBundle(_, bundle) {
    const parts = Object.keys(bundle).filter((f) => f.startsWith('assets/') && !f.endsWith('.png'))
    this.emitFile({ type: 'asset', fileName: 'parts.json', source: JSON.stringify(parts) })
  },
}

export default defineConfig({
  plugins: [vue(), guide, listed],
  build: { chunkSizeWarningLimit: 700, sourcemap: false },
  server: { proxy: { '/api': 'http://127.0.0.1:8080' } },
})
