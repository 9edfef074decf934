// An instrument that no file describes, tried from the page: send, see the answer, say what each figure is, keep that.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { instrumentsOptions } from '../api/queries'
import { valueWords, type Named } from './definition'
import { MadeDefinition } from './MadeDefinition'

type Tried = Schemas['TriedOut']
type Form = Schemas['Ask']['form'] | 'none'

const ENDS = { 'line feed': '\n', 'carriage return': '\r', both: '\r\n' } as const
const FORMS: Record<Form, string> = { text: 'a line of text', block: 'a block of floats', none: 'nothing' }
const OFTEN = 10

interface TryLineProps {
  instrument: Schemas['BenchInstrument']
  /** What a figure may be, each with its unit. */
  values: Record<string, string>
}

/** Send something on an instrument's line, and make a definition of what it answers. */
export function TryLine({ instrument: i, values }: TryLineProps) {
  const queries = useQueryClient()
  const [words, setWords] = useState('*IDN?')
  const [form, setForm] = useState<Form>('text')
  const [end, setEnd] = useState<keyof typeof ENDS>('line feed')
  const [baud, setBaud] = useState('')
  const [seconds, setSeconds] = useState('1')
  const [identity, setIdentity] = useState('')
  const [asks, setAsks] = useState<Schemas['Ask'][]>([])
  const [setup, setSetup] = useState<string[]>([])
  const [named, setNamed] = useState<Record<number, Named>>({})
  const manner = {
    timeout_ms: Math.round(1000 * (Number(seconds) || 1)),
    read_termination: ENDS[end],
    write_termination: ENDS[end],
    baud_rate: baud === '' ? null : Number(baud),
  }
  const send = useMutation({
    mutationFn: ({ times, gives }: { times: number; gives: Schemas['Gives'][] }) =>
      dataOf(api.POST('/api/bench/try', { body: { address: i.address, manner, words, form, times, gives } })),
  })
  const keep = useMutation({
    mutationFn: async (made: { name: string; title: string }) => {
      const body = {
        title: made.title,
        kind: i.kind,
        identity,
        ...manner,
        setup,
        errors: '',
        asks,
        traces: [],
        columns: {},
      }
      await dataOf(api.PUT('/api/bench/definitions/{name}', { params: { path: { name: made.name } }, body }))
      const params = { path: { instrument_id: i.id } }
      return dataOf(api.PUT('/api/bench/instruments/{instrument_id}', { params, body: { definition: made.name } }))
    },
    onSuccess: (next) => {
      queries.setQueryData(instrumentsOptions.queryKey, next)
      void queries.invalidateQueries({ queryKey: ['texts'] })
    },
  })
  const serial = i.address.toUpperCase().startsWith('ASRL')
  return (
    <section className="try-line" aria-label={`Try ${i.name}`}>
      <p className="caution">
        What is sent is done. A setting can put volts or power out: know the word before you send it.
      </p>
      <form
        className="senses"
        onSubmit={(e) => {
          e.preventDefault()
          send.mutate({ times: 1, gives: [] })
        }}
      >
        <input
          className="small-input asked"
          aria-label="Words to send"
          value={words}
          maxLength={200}
          autoComplete="off"
          spellCheck={false}
          onChange={(e) => {
            setWords(e.target.value)
            setNamed({})
            send.reset()
          }}
        />
        <button type="submit" className="chip set" disabled={words.trim() === '' || send.isPending}>
          Send
        </button>
        <Choice label="It answers with" value={form} choices={FORMS} onChosen={setForm} />
        <Choice
          label="A line ends with"
          value={end}
          choices={{ 'line feed': 'line feed', 'carriage return': 'carriage return', both: 'both' }}
          onChosen={setEnd}
        />
        <Figure label="Seconds to wait" value={seconds} onTyped={setSeconds} />
        {serial && <Figure label="Baud" value={baud} onTyped={setBaud} />}
      </form>
      {send.error !== null && (
        <p role="alert" className="ask-line">
          {send.error.message}
        </p>
      )}
      {send.data !== undefined && (
        <Answer
          words={words}
          form={form}
          tried={send.data}
          values={values}
          named={named}
          onNamed={setNamed}
          onIdentity={setIdentity}
          onAsk={(gives, times) => send.mutate({ times, gives })}
          onKept={(ask) => setAsks([...asks.filter((a) => a.command !== ask.command), ask])}
          onFirst={() => setSetup([...setup.filter((s) => s !== words), words])}
        />
      )}
      <MadeDefinition
        instrument={i.id}
        identity={identity}
        setup={setup}
        asks={asks}
        busy={keep.isPending}
        kept={keep.isSuccess}
        problem={keep.error?.message ?? null}
        onDrop={(command) => {
          setAsks(asks.filter((a) => a.command !== command))
          setSetup(setup.filter((s) => s !== command))
        }}
        onKeep={(name, title) => keep.mutate({ name, title })}
      />
    </section>
  )
}

interface ChoiceProps<T extends string> {
  label: string
  value: T
  choices: Record<T, string>
  onChosen: (value: T) => void
}

function Choice<T extends string>({ label, value, choices, onChosen }: ChoiceProps<T>) {
  return (
    <label className="quiet">
      {label.toLowerCase()}{' '}
      <select className="small-input" value={value} onChange={(e) => onChosen(e.target.value as T)}>
        {(Object.keys(choices) as T[]).map((c) => (
          <option key={c} value={c}>
            {choices[c]}
          </option>
        ))}
      </select>
    </label>
  )
}

function Figure({ label, value, onTyped }: { label: string; value: string; onTyped: (value: string) => void }) {
  return (
    <label className="quiet">
      {label.toLowerCase()}{' '}
      <input
        className="small-input few"
        inputMode="decimal"
        maxLength={7}
        value={value}
        onChange={(e) => onTyped(e.target.value)}
      />
    </label>
  )
}

interface AnswerProps {
  words: string
  form: Form
  tried: Tried
  values: Record<string, string>
  named: Record<number, Named>
  onNamed: (named: Record<number, Named>) => void
  onIdentity: (pattern: string) => void
  onAsk: (gives: Schemas['Gives'][], times: number) => void
  onKept: (ask: Schemas['Ask']) => void
  onFirst: () => void
}

/** What came back, figure by figure, and what each is. */
function Answer({ words, form, tried, values, named, onNamed, onIdentity, onAsk, onKept, onFirst }: AnswerProps) {
  const gives = tried.figures.flatMap((f) => {
    const of = named[f.index]
    if (of === undefined || of.value === '') return []
    return [
      {
        value: of.value,
        index: f.index,
        factor: Number(of.factor) || 1,
        scatter: scatterOf(f, of),
        scatter_percent: 0,
      },
    ]
  }) as Schemas['Gives'][]
  if (form === 'none')
    return (
      <p>
        Sent; nothing was to come back.{' '}
        <button type="button" className="link" onClick={onFirst}>
          Send it whenever the line opens
        </button>
      </p>
    )
  const name = (index: number, change: Partial<Named>) =>
    onNamed({ ...named, [index]: { value: '', factor: '1', ...named[index], ...change } })
  return (
    <div aria-label="What came back" role="group">
      <p>
        It answers <b className="answer">{tried.answer.slice(0, 200) || 'an empty line'}</b>{' '}
        <small className="quiet">in {(1000 * tried.took_s).toFixed(0)} ms</small>{' '}
        {words.trim().toUpperCase() === '*IDN?' && (
          <button type="button" className="link" onClick={() => onIdentity(tried.identity)}>
            This is who it is
          </button>
        )}
      </p>
      {tried.figures.some((f) => f.first !== null) && (
        <>
          <table className="named">
            <tbody>
              {tried.figures
                .filter((f) => f.first !== null)
                .map((f) => (
                  <tr key={f.index}>
                    <td className="answer">{f.first}</td>
                    <td>
                      <select
                        className="small-input"
                        aria-label={`Figure ${f.index + 1} is`}
                        value={named[f.index]?.value ?? ''}
                        onChange={(e) => name(f.index, { value: e.target.value as Named['value'] })}
                      >
                        <option value="">is nothing I need</option>
                        {Object.entries(values).map(([value, unit]) => (
                          <option key={value} value={value}>
                            is {valueWords(value)}, {unit}
                          </option>
                        ))}
                      </select>
                    </td>
                    <td>
                      <label className="quiet">
                        times{' '}
                        <input
                          className="small-input few"
                          aria-label={`Figure ${f.index + 1} times`}
                          inputMode="decimal"
                          maxLength={12}
                          value={named[f.index]?.factor ?? '1'}
                          onChange={(e) => name(f.index, { factor: e.target.value })}
                        />
                      </label>
                    </td>
                    <td className="quiet">
                      {f.scatter !== null && `moves by ${f.scatter.toPrecision(2)} over ${tried.count}`}
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
          <p className="acts">
            <button type="button" className="link" onClick={() => onAsk(gives, OFTEN)}>
              Ask it {OFTEN} times
            </button>
            {gives.length > 0 && (
              <button type="button" className="chip set" onClick={() => onKept({ command: words, form, gives })}>
                Keep this question
              </button>
            )}
            {tried.words !== '' && (
              <span>
                read as <b>{tried.words}</b>
              </span>
            )}
          </p>
        </>
      )}
    </div>
  )
}

/** What a still input shows of a figure, in the value's own unit. */
function scatterOf(figure: Schemas['FigureOut'], named: Named): number {
  return figure.scatter === null ? 0 : Number((figure.scatter * Math.abs(Number(named.factor) || 1)).toPrecision(2))
}
