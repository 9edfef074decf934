// Signing in and out; everything known is asked again for the person who is now at the bench.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { meOptions } from '../api/queries'

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
