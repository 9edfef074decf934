// A limit profile as this shop's own copy.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { profileOptions } from '../api/queries'
import { TextEditor } from './TextEditor'

export function ProfileEditor({ id, onDone }: { id: string; onDone: () => void }) {
  const queries = useQueryClient()
  const query = useQuery(profileOptions(id))
  const params = { path: { name: id } }
  const onSuccess = (kept: Schemas['ProfileText']) => {
    queries.setQueryData(profileOptions(id).queryKey, kept)
    for (const queryKey of [['library'], ['slip'], ['understand']]) void queries.invalidateQueries({ queryKey })
    onDone()
  }
  const keep = useMutation({
    mutationFn: (text: string) => dataOf(api.PUT('/api/library/profiles/{name}', { params, body: { text } })),
    onSuccess,
  })
  const withdraw = useMutation({
    mutationFn: () => dataOf(api.POST('/api/library/profiles/{name}/withdraw', { params })),
    onSuccess,
  })
  const profile = query.data
  if (profile === undefined)
    return <p role={query.isError ? 'alert' : 'status'}>{query.isError ? query.error.message : 'Opening its text'}</p>
  return (
    <TextEditor
      key={profile.text}
      label="The profile's text"
      rows={{ kind: 'limits', name: id }}
      text={profile.text}
      keepWords="Judge by this from now on"
      withdrawWords={profile.ours ? 'Back to the shipped one' : null}
      changed={profile.changed}
      versions={profile.versions}
      problem={keep.error ?? withdraw.error}
      busy={keep.isPending || withdraw.isPending}
      onKeep={(text) => keep.mutate(text)}
      onWithdraw={() => withdraw.mutate()}
      onDone={onDone}
    />
  )
}
