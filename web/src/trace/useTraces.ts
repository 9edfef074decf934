// The traces of a job: begun, looked for, closed; each answer is the trace as it then stands.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { tracesOptions } from '../api/queries'

export type Trace = Schemas['TraceOut']

export function useTraces(job: string) {
  const queries = useQueryClient()
  const query = useQuery(tracesOptions(job))
  const onSuccess = () => void queries.invalidateQueries({ queryKey: ['slip', job] })
  const begin = useMutation({
    mutationFn: (body: { chain: string; symptom: string; item: string | null }) =>
      dataOf(api.POST('/api/jobs/{job_id}/traces', { params: { path: { job_id: job } }, body: { id: crypto.randomUUID(), ...body } })),
    onSuccess,
  })
  const look = useMutation({
    mutationFn: ({ trace, ...body }: { trace: string; id: string; probe: string; seen: string; hazard_known: boolean }) =>
      dataOf(api.POST('/api/traces/{trace_id}/looks', { params: { path: { trace_id: trace } }, body })),
    retry: 3, // the line's id is made once, so that a lost answer doubles nothing
    onSuccess: (next) => {
      queries.setQueryData(tracesOptions(job).queryKey, (before) => before && { ...before, traces: before.traces.map((t) => (t.id === next.id ? next : t)) })
      onSuccess()
    },
  })
  const change = useMutation({
    mutationFn: ({ trace, ...body }: { trace: string } & Partial<Schemas['TraceChange']>) =>
      dataOf(api.PATCH('/api/traces/{trace_id}', { params: { path: { trace_id: trace } }, body })),
    onSuccess,
  })
  const back = useMutation({
    mutationFn: (line: string) => dataOf(api.POST('/api/lines/{line_id}/withdraw', { params: { path: { line_id: line } }, body: { reason: 'doubted' } })),
    onSuccess,
  })
  return { now: query.data, asking: query.error, begin, look, change, back, problem: begin.error ?? look.error ?? change.error ?? back.error }
}

export const open = (traces: Trace[]) => traces.filter((t) => t.closed_at === null)
