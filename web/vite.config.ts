import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  base: '/static/',
  plugins: [react()],
  build: { manifest: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  test: {
    environment: 'jsdom',
    include: ['src/**/*.test.{ts,tsx}'],
    setupFiles: ['src/after-each.test-help.ts'],
    testTimeout: 60_000,
    // one page for all files: reading the packages takes ten times as long as the tests
    isolate: false,
    maxWorkers: 1,
  },
})
