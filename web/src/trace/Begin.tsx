// Opening a trace: the symptom, and the chain that fits the unit.
import { useState } from 'react'
import type { useTraces } from './useTraces'

export function Begin({
  traces,
  item,
  symptom,
}: {
  traces: ReturnType<typeof useTraces>
  item: string | null
  symptom: string
}) {
  const { now, begin } = traces
  const [chain, setChain] = useState<string | null>(null)
  const [words, setWords] = useState(symptom)
  if (now === undefined) return null
  const along = chain ?? now.fits ?? now.chains[0]?.id ?? ''
  return (
    <form
      className="begin-trace"
      onSubmit={(e) => {
        e.preventDefault()
        begin.mutate({ chain: along, symptom: words, item })
      }}
    >
      <input
        className="small-input"
        aria-label="Symptom"
        placeholder="symptom: no output, weak, muffled …"
        maxLength={200}
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <select className="chip" aria-label="Chain" value={along} onChange={(e) => setChain(e.target.value)}>
        {now.chains.map((c) => (
          <option key={c.id} value={c.id}>
            {c.title}
          </option>
        ))}
      </select>
      <button type="submit" className="take" disabled={begin.isPending}>
        Trace it
      </button>
    </form>
  )
}
