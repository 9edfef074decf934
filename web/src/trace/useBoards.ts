// The boards of a job with their pins; each answer is all of them as they then stand.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { boardsOptions } from '../api/queries'
import { within } from '../ui/PinnedPicture'

export type Board = Schemas['BoardOut']
export type Pin = Schemas['PinOut']
export const SIDES = { component: 'component side', solder: 'solder side' } as const

export function useBoards(job: string) {
  const queries = useQueryClient()
  const query = useQuery(boardsOptions(job))
  const { queryKey } = boardsOptions(job)
  // one after the other, as the hand did it; while a later one is under way, the answer of an earlier one says how it was
  const inOrder = { mutationKey: ['boards', job], scope: { id: `boards:${job}` } }
  const onSuccess = (boards: Board[]) => {
    if (queries.isMutating({ mutationKey: inOrder.mutationKey }) === 1) queries.setQueryData(queryKey, boards)
  }
  const keep = useMutation({
    ...inOrder,
    mutationFn: ({ line, side }: { line: string; side: Board['side'] }) =>
      dataOf(
        api.PUT('/api/jobs/{job_id}/boards/{line_id}', {
          params: { path: { job_id: job, line_id: line } },
          body: { side },
        }),
      ),
    onSuccess,
  })
  const drop = useMutation({
    ...inOrder,
    mutationFn: (line: string) =>
      dataOf(api.DELETE('/api/jobs/{job_id}/boards/{line_id}', { params: { path: { job_id: job, line_id: line } } })),
    onSuccess,
  })
  const pin = useMutation({
    ...inOrder,
    mutationFn: ({ line, pin: { id, ...body } }: { line: string; pin: Pin }) =>
      dataOf(
        api.PUT('/api/jobs/{job_id}/boards/{line_id}/pins/{pin_id}', {
          params: { path: { job_id: job, line_id: line, pin_id: id } },
          body,
        }),
      ),
    // the pin stands where it was put while the answer is on its way
    onMutate: ({ line, pin: put }) =>
      queries.setQueryData(queryKey, (boards) =>
        boards?.map((b) =>
          b.line !== line
            ? b
            : {
                ...b,
                pins: [...b.pins.filter((p) => p.id !== put.id && (put.probe === '' || p.probe !== put.probe)), put],
              },
        ),
      ),
    onSuccess,
  })
  const unpin = useMutation({
    ...inOrder,
    mutationFn: ({ line, pin: id }: { line: string; pin: string }) =>
      dataOf(
        api.DELETE('/api/jobs/{job_id}/boards/{line_id}/pins/{pin_id}', {
          params: { path: { job_id: job, line_id: line, pin_id: id } },
        }),
      ),
    onSuccess,
  })
  /** Move a pin by a share of the picture from where it stands now, answered or not: a fast hand presses before that. */
  const nudge = (line: string, id: string, [x, y]: readonly [number, number]) => {
    const known = queries.getQueryData(queryKey)?.find((board) => board.line === line)
    const now = known?.pins.find((p) => p.id === id)
    if (now !== undefined) pin.mutate({ line, pin: { ...now, x: within(now.x + x), y: within(now.y + y) } })
  }
  return {
    nudge,
    boards: query.data ?? [],
    keep,
    drop,
    pin,
    unpin,
    problem: query.error ?? keep.error ?? drop.error ?? pin.error ?? unpin.error,
  }
}

/** Where a probe is pinned: the board and the pin, of this job's own boards first. */
export function pinOf(boards: Board[], probe: string): { board: Board; pin: Pin } | null {
  for (const board of boards) {
    const pin = board.pins.find((p) => p.probe === probe)
    if (pin !== undefined) return { board, pin }
  }
  return null
}
