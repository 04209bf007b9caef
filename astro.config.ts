import { defineConfig } from 'astro/config'
import node from '@astrojs/node'
import react from '@astrojs/react'
import tailwindcss from '@tailwindcss/vite'

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  session: { driver: 'memory' },
  image: { service: { entrypoint: 'astro/assets/services/noop' } },
  // Requests are checked against their Origin in src/middleware.ts, JSON bodies included.
  security: { checkOrigin: false },
  vite: {
    plugins: [tailwindcss()],
    worker: { format: 'es' },
    ssr: { external: ['@resvg/resvg-js', 'mysql2', 'joi'] },
    build: { chunkSizeWarningLimit: 2000 },
  },
})
