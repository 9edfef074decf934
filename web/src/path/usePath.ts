// The path of a job: asked for once, changed at once; each answer is the path as it then stands.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { pathOptions } from '../api/queries'
import type { Path } from './tree'

export type PathNow = Schemas['PathOut']

/** The path of a job, and what may be done with it. */
export function usePath(job: string) {
  const queries = useQueryClient()
  const query = useQuery(pathOptions(job))
  const params = { path: { job_id: job } }
  const onSuccess = (next: PathNow) => {
    queries.setQueryData(pathOptions(job).queryKey, next)
    void queries.invalidateQueries({ queryKey: ['slip', job] })
    void queries.invalidateQueries({ queryKey: ['understand'] })
  }
  const use = useMutation({
    mutationFn: (body: { path: Path | null; name: string; most_w?: number | null; sure?: boolean }) =>
      dataOf(
        api.PUT('/api/jobs/{job_id}/path', {
          params,
          body: { most_w: query.data?.most_w ?? null, sure: false, ...body },
        }),
      ),
    onSuccess,
  })
  const pad = useMutation({
    mutationFn: (body: Schemas['PadIn']) => dataOf(api.POST('/api/jobs/{job_id}/path/pad', { params, body })),
    onSuccess,
  })
  const confirm = useMutation({
    mutationFn: (hazard: Schemas['HazardIn']['hazard']) =>
      dataOf(api.POST('/api/jobs/{job_id}/path/confirm', { params, body: { hazard } })),
    onSuccess,
  })
  const override = useMutation({
    mutationFn: (part: string) => dataOf(api.POST('/api/jobs/{job_id}/path/override', { params, body: { part } })),
    onSuccess,
  })
  const save = useMutation({
    mutationFn: (body: Schemas['BenchIn']) => dataOf(api.POST('/api/benches', { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: pathOptions(job).queryKey }),
  })
  const problem = use.error ?? pad.error ?? confirm.error ?? override.error ?? save.error
  return { now: query.data, asking: query.error, use, pad, confirm, override, save, problem }
}

/** Loss against frequency from a file that a network analyser saved of one part. */
export async function lossFrom(file: File): Promise<number[][]> {
  const form = new FormData()
  form.append('file', file)
  // the generated type says string for the file's bytes; the form carries the file itself
  const found = await dataOf(
    api.POST('/api/benches/loss', { body: form as never, bodySerializer: (body) => body as unknown as FormData }),
  )
  return found.loss_db
}

/** Whether the pad chip belongs to the path: an instrument hangs in it, that of the chip where one is named. */
export function hangsInPath(path: Path | null, chip: string | null): boolean {
  return (path?.parts ?? []).some((p) => p.instrument != null && (chip === null || p.instrument === chip))
}
