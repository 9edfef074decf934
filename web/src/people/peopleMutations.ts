// Signing in and out; everything known is asked again for the person who is now at the bench.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { meOptions, peopleOptions } from '../api/queries'

export function usePeople() {
  const queries = useQueryClient()
  const onSuccess = (me: Schemas['Me']) => {
    queries.setQueryData(meOptions.queryKey, me)
    void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'me' })
  }
  const signIn = useMutation({
    mutationFn: (body: Schemas['SignIn']) => dataOf(api.POST('/api/sign-in', { body })),
    onSuccess,
  })
  const tap = useMutation({ mutationFn: (body: Schemas['Tap']) => dataOf(api.POST('/api/tap', { body })), onSuccess })
  const signOut = useMutation({ mutationFn: () => dataOf(api.POST('/api/sign-out')), onSuccess })
  const setPin = useMutation({
    mutationFn: async (pin: string) => {
      await api.POST('/api/pin', { body: { pin } })
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: meOptions.queryKey }),
  })
  return { signIn, tap, signOut, setPin }
}

/** What a keeper does to people and browsers; each answer is the whole page anew. */
export function useKeepingPeople() {
  const queries = useQueryClient()
  const onSuccess = (people: Schemas['People']) => {
    queries.setQueryData(peopleOptions.queryKey, people)
    void queries.invalidateQueries({ queryKey: meOptions.queryKey })
  }
  const of = (person_id: number) => ({ params: { path: { person_id } } })
  const add = useMutation({
    mutationFn: (body: Schemas['NewPerson']) => dataOf(api.POST('/api/people', { body })),
    onSuccess,
  })
  const change = useMutation({
    mutationFn: ({ id, body }: { id: number; body: Schemas['PersonChange'] }) =>
      dataOf(api.PATCH('/api/people/{person_id}', { ...of(id), body })),
    onSuccess,
  })
  const signOut = useMutation({
    mutationFn: (id: number) => dataOf(api.POST('/api/people/{person_id}/sign-out', of(id))),
    onSuccess,
  })
  const withdraw = useMutation({
    mutationFn: (browser_id: number) =>
      dataOf(api.DELETE('/api/browsers/{browser_id}', { params: { path: { browser_id } } })),
    onSuccess,
  })
  return { add, change, signOut, withdraw }
}
