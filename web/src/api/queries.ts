// Keys and functions of every query, defined together once; components never fetch.
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from './client'
import { beginAfter, isStreaming } from './streaming'

export const meOptions = queryOptions({
  queryKey: ['me'],
  queryFn: async () => {
    const me = await dataOf(api.GET('/api/me'))
    beginAfter(me.event) // it is asked before anything else
    return me
  },
  staleTime: 60_000,
})

export const libraryOptions = queryOptions({
  queryKey: ['library'],
  queryFn: () => dataOf(api.GET('/api/library')),
  staleTime: 300_000,
})

export const profileOptions = (name: string) =>
  queryOptions({
    queryKey: ['profile', name],
    queryFn: () => dataOf(api.GET('/api/library/profiles/{name}', { params: { path: { name } } })),
  })

export type TextKind = 'channels' | 'definitions' | 'words'

export const textsOptions = (kind: TextKind) =>
  queryOptions({
    queryKey: ['texts', kind],
    queryFn: () => dataOf(api.GET('/api/library/texts/{kind}', { params: { path: { kind } } })),
  })

export const textOptions = (kind: TextKind, name: string) =>
  queryOptions({
    queryKey: ['texts', kind, name],
    queryFn: () => dataOf(api.GET('/api/library/texts/{kind}/{name}', { params: { path: { kind, name } } })),
  })

export const gearOptions = (id: string) =>
  queryOptions({
    queryKey: ['gear', id],
    queryFn: () => dataOf(api.GET('/api/gear/{name}', { params: { path: { name: id } } })),
  })

export const chainsOptions = queryOptions({ queryKey: ['chains'], queryFn: () => dataOf(api.GET('/api/chains')) })

export const chainOptions = (name: string) =>
  queryOptions({
    queryKey: ['chain', name],
    queryFn: () => dataOf(api.GET('/api/chains/{name}', { params: { path: { name } } })),
  })

export const practiceOptions = queryOptions({ queryKey: ['practice'], queryFn: () => dataOf(api.GET('/api/practice')) })

export const replayOptions = (trace: string, seen: number) =>
  queryOptions({
    queryKey: ['practice', trace, seen],
    queryFn: () =>
      dataOf(api.GET('/api/practice/{trace_id}', { params: { path: { trace_id: trace }, query: { seen } } })),
  })

export const sumsOptions = queryOptions({
  queryKey: ['sums'],
  queryFn: () => dataOf(api.GET('/api/library/sums')),
  staleTime: Infinity,
})

export const sumAnswerOptions = (id: string, values: number[]) =>
  queryOptions({
    queryKey: ['sum', id, values],
    queryFn: ({ signal }) =>
      dataOf(api.POST('/api/library/sums/{sum_id}', { params: { path: { sum_id: id } }, body: { values }, signal })),
    enabled: values.every(Number.isFinite),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })

export const tablesOptions = queryOptions({
  queryKey: ['reference'],
  queryFn: () => dataOf(api.GET('/api/reference')),
  staleTime: 300_000,
})

const asking = (q: string, job: string) => (job === '' ? { q } : { q, job })

export const lookUpOptions = (q: string, job: string) =>
  queryOptions({
    queryKey: ['reference', 'look-up', q, job],
    queryFn: ({ signal }) => dataOf(api.GET('/api/reference/look-up', { params: { query: asking(q, job) }, signal })),
    enabled: q.trim() !== '',
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })

export const tableOptions = (name: string, q: string, job: string) =>
  queryOptions({
    queryKey: ['reference', name, q, job],
    queryFn: ({ signal }) =>
      dataOf(api.GET('/api/reference/tables/{name}', { params: { path: { name }, query: asking(q, job) }, signal })),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })

export const shelfOptions = (find: string) =>
  queryOptions({
    queryKey: ['shelf', find],
    // with its own words, so that while the next key's answer is on its way nobody is told that of the last one as its own
    queryFn: async ({ signal }) => ({
      ...(await dataOf(api.GET('/api/shelf', { params: { query: { find } }, signal }))),
      find,
    }),
    placeholderData: keepPreviousData,
  })

export const looseOptions = queryOptions({ queryKey: ['loose'], queryFn: () => dataOf(api.GET('/api/lines/loose')) })

export const slipOptions = (job: string, item: string | null) =>
  queryOptions({
    queryKey: ['slip', job, item],
    queryFn: ({ signal }) =>
      dataOf(
        api.GET('/api/jobs/{job_id}', {
          params: { path: { job_id: job }, query: item === null ? {} : { item } },
          signal,
        }),
      ),
    // while events come they say when to ask again
    refetchInterval: () => (isStreaming() ? false : 5_000),
  })

export const benchOptions = queryOptions({ queryKey: ['bench'], queryFn: () => dataOf(api.GET('/api/bench')) })

export const instrumentsOptions = queryOptions({
  queryKey: ['instruments'],
  queryFn: () => dataOf(api.GET('/api/bench/instruments')),
  refetchInterval: 3_000, // last answers move on without an event
})

export const peopleOptions = queryOptions({
  queryKey: ['people'],
  queryFn: () => dataOf(api.GET('/api/people')),
})

/** A unit beside others; asked anew whenever its slip is. */
export const comparedOptions = (job: string, item: string | null) =>
  queryOptions({
    queryKey: ['slip', job, item, 'compared'],
    queryFn: () =>
      dataOf(
        api.GET('/api/jobs/{job_id}/compared', {
          params: { path: { job_id: job }, query: item === null ? {} : { item } },
        }),
      ),
  })

export const watchesOptions = (job: string) =>
  queryOptions({
    queryKey: ['watches', job],
    queryFn: () => dataOf(api.GET('/api/bench/watches', { params: { query: { job } } })),
  })

export const watchOptions = (watch: string) =>
  queryOptions({
    queryKey: ['watch', watch],
    queryFn: () => dataOf(api.GET('/api/bench/watches/{watch_id}', { params: { path: { watch_id: watch } } })),
  })

export const recordsOptions = (job: string) =>
  queryOptions({
    queryKey: ['records', job],
    queryFn: () => dataOf(api.GET('/api/jobs/{job_id}/records', { params: { path: { job_id: job } } })),
  })

export const recordOptions = (record: string) =>
  queryOptions({
    queryKey: ['record', record],
    queryFn: () => dataOf(api.GET('/api/records/{record_id}', { params: { path: { record_id: record } } })),
  })

export const pathOptions = (job: string) =>
  queryOptions({
    queryKey: ['slip', job, 'path'],
    queryFn: () => dataOf(api.GET('/api/jobs/{job_id}/path', { params: { path: { job_id: job } } })),
  })

export const tracesOptions = (job: string) =>
  queryOptions({
    queryKey: ['slip', job, 'traces'],
    queryFn: () => dataOf(api.GET('/api/jobs/{job_id}/traces', { params: { path: { job_id: job } } })),
  })

export const boardsOptions = (job: string) =>
  queryOptions({
    queryKey: ['slip', job, 'boards'],
    queryFn: () => dataOf(api.GET('/api/jobs/{job_id}/boards', { params: { path: { job_id: job } } })),
  })

export const reportOptions = (job: string) =>
  queryOptions({
    queryKey: ['report', job],
    queryFn: () => dataOf(api.GET('/api/jobs/{job_id}/report', { params: { path: { job_id: job } } })),
  })

export const understandOptions = (body: Schemas['TextIn']) =>
  queryOptions({
    queryKey: ['understand', body],
    queryFn: ({ signal }) => dataOf(api.POST('/api/understand', { body, signal })),
    enabled: body.text.trim() !== '',
    gcTime: 5_000,
    staleTime: 2_000,
    retry: false,
  })

export const hiddenFaultOptions = (asked: Schemas['HiddenIn']) =>
  queryOptions({
    queryKey: ['hidden-fault', asked],
    queryFn: () => dataOf(api.POST('/api/hidden-fault', { body: asked })),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })
