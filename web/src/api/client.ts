// The one way to the server: typed by the OpenAPI document, refusals as Problem.
import createClient, { type Middleware } from 'openapi-fetch'
import type { Readable } from 'openapi-typescript-helpers'
import type { components, paths } from './schema.generated'

/** The schemas as answers carry them: openapi-fetch reads a pair as a list, so the same reading is used everywhere. */
export type Schemas = { [K in keyof components['schemas']]: Readable<components['schemas'][K]> }

/** A refusal in one sentence; status 0 means that the server was not reached. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
  ) {
    super(sentence)
  }
}

const csrfToken = () => /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''

const middleware: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
  async onResponse({ response }) {
    if (response.ok) return response
    const body = (await response.json().catch(() => null)) as { code?: string; detail?: string } | null
    throw new Problem(
      response.status,
      body?.code ?? 'unforeseen',
      body?.detail ?? 'The server answered with something else.',
    )
  },
  onError({ error }) {
    if (error instanceof DOMException && error.name === 'AbortError') return error
    return new Problem(
      0,
      'not_reached',
      'The server is not reached. What you typed is kept here and sent when it is back.',
    )
  },
}

export const api = createClient<paths>({ baseUrl: location.origin, fetch: (request) => fetch(request) })
api.use(middleware)

/** The data of an answer; openapi-fetch leaves it undefined only where the middleware has thrown already. */
export async function dataOf<T>(answer: Promise<{ data?: T }>): Promise<T> {
  const { data } = await answer
  if (data === undefined) throw new Problem(0, 'empty', 'The server answered with nothing.')
  return data
}
