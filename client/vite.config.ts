import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: { target: 'es2022', manifest: true, chunkSizeWarningLimit: 1200, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8130' } },
  // components are mounted as a browser would; one environment for all files, since making one takes longer than their tests
  resolve: process.env.VITEST ? { conditions: ['browser'] } : undefined,
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'jsdom',
    globalSetup: ['vitest.sample.ts'],
    setupFiles: ['src/testing/setup.ts'],
    isolate: false,
    pool: 'threads',
  },
} as Parameters<typeof defineConfig>[0])
