// Handing records in, telling more of them, taking their figures.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import type { Conditions } from '../entry'

const KINDS = /\.(csv|txt|tsv|sigmf-meta|sigmf-data|wav|s1p|s2p)$/i

/** Whether a file is a record by its name; anything else that is dropped is taken for a picture. */
export function isRecord(file: File): boolean {
  return KINDS.test(file.name)
}

export function useRecords(job: string, item: string | null, row: string | null, conditions: Conditions) {
  const queries = useQueryClient()
  const changed = (record: Schemas['RecordOut']) => {
    queries.setQueryData(['record', record.id], record)
    void queries.invalidateQueries({ queryKey: ['records', job] })
  }
  const keep = useMutation({
    mutationFn: (files: File[]) => {
      const form = new FormData()
      for (const file of files) form.append('files', file)
      form.append('id', crypto.randomUUID())
      form.append('conditions', JSON.stringify(conditions))
      form.append('row', row ?? '')
      form.append('item', item ?? '')
      return dataOf(
        api.POST('/api/jobs/{job_id}/records', {
          params: { path: { job_id: job } },
          // the generated type says string for the file's bytes; the form carries the files themselves
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      )
    },
    onSuccess: changed,
  })
  const tell = useMutation({
    mutationFn: ({ id, told }: { id: string; told: Schemas['RecordTold'] }) =>
      dataOf(api.PATCH('/api/records/{record_id}', { params: { path: { record_id: id } }, body: told })),
    onSuccess: changed,
  })
  const take = useMutation({
    mutationFn: ({ id, quantity }: { id: string; quantity: string }) =>
      dataOf(
        api.POST('/api/records/{record_id}/take', {
          params: { path: { record_id: id } },
          body: { id: crypto.randomUUID(), quantity, conditions, row },
        }),
      ),
    onSuccess: (_, { id }) => {
      void queries.invalidateQueries({ queryKey: ['record', id] })
      void queries.invalidateQueries({ queryKey: ['slip', job] })
      void queries.invalidateQueries({ queryKey: ['report', job] })
    },
  })
  const trace = useMutation({
    mutationFn: (offer: Schemas['TraceOffer']) =>
      dataOf(
        api.POST('/api/bench/traces', {
          body: {
            id: crypto.randomUUID(),
            job,
            item,
            row,
            conditions,
            instrument: offer.instrument,
            trace: offer.trace,
          },
        }),
      ),
    onSuccess: changed,
  })
  return { keep, tell, take, trace }
}
