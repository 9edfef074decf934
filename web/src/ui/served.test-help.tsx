// For tests: a component with a server that answers from a table, and a record of what was sent.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { vi } from 'vitest'

interface Sent {
  method: string
  path: string
  body: unknown
}

/** Renders with `answers[method + ' ' + path]` as the server; an answer may depend on the body. */
export function renderServed(view: ReactNode, answers: Record<string, unknown>) {
  const sent: Sent[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    const body: unknown = request.method === 'GET' ? null : await request.json().catch(() => null)
    sent.push({ method: request.method, path, body })
    const answer = answers[`${request.method} ${path}`]
    const data: unknown = typeof answer === 'function' ? (answer as (body: unknown) => unknown)(body) : answer
    return new Response(JSON.stringify(data ?? { detail: 'no such address', code: 'not_found' }), {
      status: data === undefined ? 404 : 200,
    })
  })
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const shown = render(
    <QueryClientProvider client={queries}>
      <MemoryRouter>{view}</MemoryRouter>
    </QueryClientProvider>,
  )
  return { ...shown, sent }
}
