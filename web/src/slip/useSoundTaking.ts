// What the sound card hears, taken onto the slip: the stretch becomes a record of the job, its figure a line.
import type { useRecords } from '../records'
import { stretchFile, useEar } from '../soundcard'

/** Ways to take what is heard now; `wanted` is the quantity that the current line asks for. */
export function useSoundTaking(records: ReturnType<typeof useRecords>, writes: boolean, wanted: string | null) {
  const { listening, heard } = useEar()
  const take = (quantity: string) => {
    const file = stretchFile()
    if (file === null || !writes) return
    records.keep.mutate([file], { onSuccess: (kept) => records.take.mutate({ id: kept.id, quantity }) })
  }
  /** What the current line wants, or the first that is there; nothing of what is clipped. */
  const takeWanted = () => {
    const there = heard?.readings.filter((r) => r.measured.value !== null) ?? []
    const first = there.find((r) => r.quantity === wanted) ?? there[0]
    if (first !== undefined && heard?.clipped === false) take(first.quantity)
  }
  return { listening, take, takeWanted }
}
