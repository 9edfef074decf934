// What can be done to a line; each refreshes the slip it stands on.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { RefObject } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { outbox, type FieldHandle } from '../entry'
import type { LineActs } from './SlipLine'

/** The newest line that stands: one just taken, still on its way, or the last of the slip. */
export function newestLine(
  pending: readonly { id: string }[],
  lines: readonly { id: string; withdrawn: string | null }[],
): string | null {
  return (pending.at(-1) ?? lines.findLast((l) => l.withdrawn === null))?.id ?? null
}

/** The acts of a slip's lines, and taking the newest back; `key` is the query of the slip, `field` where a replacement is typed. */
export function useLineActs(key: readonly unknown[], field: RefObject<FieldHandle | null>) {
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
    mutationFn: (id: string) =>
      dataOf(api.POST('/api/lines/{line_id}/reinstate', { params: { path: { line_id: id } } })),
    onSettled: refresh,
  })
  const settle = useMutation({
    mutationFn: ({ id, settled }: { id: string; settled: boolean }) =>
      dataOf(api.POST('/api/lines/{line_id}/settle', { params: { path: { line_id: id } }, body: { settled } })),
    onSettled: refresh,
  })
  const right = useMutation({
    mutationFn: ({ id, ...body }: { id: string } & Schemas['SetRightIn']) =>
      dataOf(api.POST('/api/lines/{line_id}/set-right', { params: { path: { line_id: id } }, body })),
    onSettled: refresh,
  })
  const acts = {
    onWithdraw: (line, reason) => withdraw.mutate({ id: line.id, reason }),
    onReinstate: (line) => reinstate.mutate(line.id),
    onReplace: (line) => field.current?.begin(line.text, line.id),
    onSetRight: (line, told) => right.mutate({ id: line.id, ...told }),
    onTick: (line, settled) => settle.mutate({ id: line.id, settled }),
  } satisfies Partial<LineActs>
  const takeBack = (...slip: Parameters<typeof newestLine>) => {
    const id = newestLine(...slip)
    if (id !== null) withdraw.mutate({ id, reason: 'retaken' })
  }
  return { acts, takeBack, failed: withdraw.error ?? reinstate.error ?? settle.error ?? right.error }
}
