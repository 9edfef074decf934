// What can be done to a line; each refreshes the slip it stands on.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, dataOf } from '../api/client'
import { outbox } from '../entry'

/** The newest line that stands: one just taken, still on its way, or the last of the slip. */
export function newestLine(pending: readonly { id: string }[], lines: readonly { id: string; withdrawn: string | null }[]): string | null {
  return (pending.at(-1) ?? lines.findLast((l) => l.withdrawn === null))?.id ?? null
}

/** Mutations of lines; `key` is the query of the slip they stand on. */
export function useLineActs(key: readonly unknown[]) {
  const queries = useQueryClient()
  const refresh = () => queries.invalidateQueries({ queryKey: key })
  const withdraw = useMutation({
    mutationFn: async ({ id, reason }: { id: string; reason: string }) => {
      if (!(await outbox.whenAnswered(id))) return null // refused: its text is back in the field already
      return dataOf(api.POST('/api/lines/{line_id}/withdraw', { params: { path: { line_id: id } }, body: { reason } }))
    },
    onSettled: refresh,
  })
  const reinstate = useMutation({
    mutationFn: (id: string) => dataOf(api.POST('/api/lines/{line_id}/reinstate', { params: { path: { line_id: id } } })),
    onSettled: refresh,
  })
  const settle = useMutation({
    mutationFn: ({ id, settled }: { id: string; settled: boolean }) =>
      dataOf(api.POST('/api/lines/{line_id}/settle', { params: { path: { line_id: id } }, body: { settled } })),
    onSettled: refresh,
  })
  const failed = withdraw.error ?? reinstate.error ?? settle.error
  return { withdraw, reinstate, settle, failed }
}
