// A limit profile as this shop's own copy: its text, what is wrong with it by line and row, and every version there was.
import Button from '@mui/material/Button'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { profileOptions } from '../api/queries'
import { dayOf } from '../ui/words'

export function ProfileEditor({ id, onDone }: { id: string; onDone: () => void }) {
  const query = useQuery(profileOptions(id))
  if (query.data === undefined) return <p role={query.isError ? 'alert' : 'status'}>{query.isError ? query.error.message : 'Opening its text'}</p>
  return <Text key={query.data.text} profile={query.data} onDone={onDone} />
}

function Text({ profile, onDone }: { profile: Schemas['ProfileText']; onDone: () => void }) {
  const queries = useQueryClient()
  const [text, setText] = useState(profile.text)
  const params = { path: { name: profile.id } }
  const onSuccess = (kept: Schemas['ProfileText']) => {
    queries.setQueryData(profileOptions(profile.id).queryKey, kept)
    for (const queryKey of [['library'], ['slip'], ['understand']]) void queries.invalidateQueries({ queryKey })
    onDone()
  }
  const keep = useMutation({ mutationFn: () => dataOf(api.PUT('/api/library/profiles/{name}', { params, body: { text } })), onSuccess })
  const withdraw = useMutation({ mutationFn: () => dataOf(api.POST('/api/library/profiles/{name}/withdraw', { params })), onSuccess })
  const problem = keep.error ?? withdraw.error
  return (
    <form
      className="profile-text"
      onSubmit={(e) => {
        e.preventDefault()
        keep.mutate()
      }}
    >
      {problem !== null && (
        <p className="banner" role="alert">
          {problem.message}
        </p>
      )}
      <textarea aria-label="The profile's text" value={text} rows={22} spellCheck={false} maxLength={100_000} onChange={(e) => setText(e.target.value)} />
      <p className="acts">
        <Button type="submit" variant="contained" disabled={text === profile.text || keep.isPending}>
          Judge by this from now on
        </Button>
        {profile.ours && (
          <Button disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
            Back to the shipped one
          </Button>
        )}
        <Button onClick={onDone}>Leave it</Button>
      </p>
      {profile.versions.length > 0 && (
        <p className="senses" role="group" aria-label="Versions of this shop">
          <span className="quiet">What was judged keeps its version. Look at</span>
          {profile.versions.map((v) => (
            <button key={v.number} type="button" className="chip" aria-pressed={v.text === text} onClick={() => setText(v.text)}>
              shop {v.number}, {v.by}, {dayOf(v.at)}
            </button>
          ))}
        </p>
      )}
    </form>
  )
}
