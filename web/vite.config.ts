import { fileURLToPath } from 'node:url'
import tailwind from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

const page = (name: string) => fileURLToPath(new URL(name, import.meta.url))

/** How long its plugins took is nothing that somebody who starts Hoja has to read. */
const checks = { pluginTimings: false }

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [react(), tailwind()],
  resolve: {
    conditions: ['source', 'module', 'browser', 'development|production'],
    // The shaper asks for Node's `module` where there is one; in a browser there is nothing to ask.
    alias: [{ find: /^module$/, replacement: fileURLToPath(new URL('./src/preview/noNode.ts', import.meta.url)) }],
  },
  worker: { format: 'es', rolldownOptions: { checks } },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 3000,
    // The interface, and the page that mixers take: the picture of a channel alone.
    rolldownOptions: {
      input: { index: page('index.html'), out: page('out.html') },
      checks,
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4173' } },
})
