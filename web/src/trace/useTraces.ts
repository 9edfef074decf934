// The traces of a job: begun, looked for, closed; each answer is the trace as it then stands.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { tracesOptions } from '../api/queries'

export type Trace = Schemas['TraceOut']

export function useTraces(job: string) {
  const queries = useQueryClient()
  const query = useQuery(tracesOptions(job))
  const onSuccess = () => void queries.invalidateQueries({ queryKey: ['slip', job] })
  const show = (next: Trace) => {
    queries.setQueryData(
      tracesOptions(job).queryKey,
      (before) => before && { ...before, traces: before.traces.map((t) => (t.id === next.id ? next : t)) },
    )
    onSuccess()
  }
  const begin = useMutation({
    mutationFn: (body: { chain: string; symptom: string; item: string | null }) =>
      dataOf(
        api.POST('/api/jobs/{job_id}/traces', {
          params: { path: { job_id: job } },
          body: { id: crypto.randomUUID(), ...body },
        }),
      ),
    onSuccess,
  })
  const look = useMutation({
    mutationFn: ({
      trace,
      ...body
    }: {
      trace: string
      id: string
      probe: string
      seen: string
      remark: string
      hazard_known: boolean
    }) => dataOf(api.POST('/api/traces/{trace_id}/looks', { params: { path: { trace_id: trace } }, body })),
    retry: 3, // the line's id is made once, so that a lost answer doubles nothing
    onSuccess: show,
  })
  const change = useMutation({
    mutationFn: ({ trace, ...body }: { trace: string } & Partial<Schemas['TraceChange']>) =>
      dataOf(api.PATCH('/api/traces/{trace_id}', { params: { path: { trace_id: trace } }, body })),
    onSuccess,
  })
  const back = useMutation({
    mutationFn: (line: string) =>
      dataOf(
        api.POST('/api/lines/{line_id}/withdraw', { params: { path: { line_id: line } }, body: { reason: 'doubted' } }),
      ),
    onSuccess,
  })
  const doubt = useMutation({
    mutationFn: ({ trace, line, doubted }: { trace: string; line: string; doubted: boolean }) =>
      dataOf(
        api.PUT('/api/traces/{trace_id}/doubts/{line_id}', {
          params: { path: { trace_id: trace, line_id: line } },
          body: { doubted },
        }),
      ),
    onSuccess: show,
  })
  const problem = begin.error ?? look.error ?? change.error ?? back.error ?? doubt.error
  return { now: query.data, asking: query.error, begin, look, change, back, doubt, problem }
}

export const open = (traces: Trace[]) => traces.filter((t) => t.closed_at === null)
