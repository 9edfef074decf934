// For tests: all files share one page, so each test leaves it as it found it. Patience is for a busy machine; nothing here measures time.
import { cleanup, configure } from '@testing-library/react'
import { afterEach, vi } from 'vitest'

configure({ asyncUtilTimeout: 30_000 })

afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
  localStorage.clear()
})
