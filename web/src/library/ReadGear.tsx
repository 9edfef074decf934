// A model's open file read in: what it would change is shown first, then kept or left.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useRef } from 'react'
import { api, dataOf } from '../api/client'
import { libraryOptions } from '../api/queries'

/** A model's open file, or one that is zipped with the pictures of its boards. */
async function readIn(file: File, sure: boolean) {
  if (!file.name.toLowerCase().endsWith('.zip'))
    return dataOf(api.POST('/api/gear-file', { body: { text: await file.text(), sure } }))
  const form = new FormData()
  form.append('file', file)
  form.append('sure', String(sure))
  return dataOf(
    api.POST('/api/gear-packed', { body: form as never, bodySerializer: (body) => body as unknown as FormData }),
  )
}

/** Read a model's open file; `onKept` gets the id that it is kept under. */
export function ReadGear({ onKept }: { onKept: (id: string) => void }) {
  const picker = useRef<HTMLInputElement>(null)
  const queries = useQueryClient()
  const read = useMutation({
    mutationFn: async ({ file, sure }: { file: File; sure: boolean }) => ({ ...(await readIn(file, sure)), file }),
    onSuccess: (found) => {
      if (!found.kept) return
      void queries.invalidateQueries({ queryKey: libraryOptions.queryKey })
      void queries.invalidateQueries({ queryKey: ['gear', found.id] })
      read.reset()
      onKept(found.id)
    },
  })
  const found = read.data
  return (
    <div>
      <button type="button" className="link" onClick={() => picker.current?.click()}>
        Read a model’s open file
      </button>
      <input
        ref={picker}
        type="file"
        accept=".toml,.zip"
        hidden
        aria-label="A model's open file"
        onChange={(e) => {
          const file = e.target.files?.[0]
          if (file !== undefined) read.mutate({ file, sure: false })
          e.target.value = ''
        }}
      />
      {read.error !== null && <p role="alert">{read.error.message}</p>}
      {found !== undefined && !found.kept && (
        <section className="gear-read" aria-label="What it would change">
          <p>
            {found.differences.length === 0
              ? 'It is what stands here already.'
              : found.sheet === null
                ? 'It is new here.'
                : `It would change ${found.sheet.title}:`}
          </p>
          <table>
            <tbody>
              {found.differences.slice(0, 60).map((d) => (
                <tr key={`${d.what} ${d.here} ${d.there}`}>
                  <td>{d.what}</td>
                  <td>{d.here === '' ? <span className="quiet">not here</span> : d.here}</td>
                  <td>{d.there === '' ? <span className="quiet">gone</span> : d.there}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="senses">
            {found.differences.length > 0 && (
              <button type="button" className="take" onClick={() => read.mutate({ file: found.file, sure: true })}>
                Keep it so
              </button>
            )}
            <button type="button" className="link" onClick={() => read.reset()}>
              Leave it
            </button>
          </p>
        </section>
      )}
    </div>
  )
}
