// What changes a job; each answer is the slip as it then stands.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, dataOf, type Schemas } from '../api/client'
import { libraryOptions } from '../api/queries'

/** Changes of a job and its items. */
export function useJobMutations(job: string, item: string | null) {
  const queries = useQueryClient()
  const onSuccess = (slip: Schemas['SlipOut']) => {
    queries.setQueryData(['slip', job, item], slip)
    void queries.invalidateQueries({ queryKey: ['slip', job] })
    void queries.invalidateQueries({ queryKey: ['shelf'] })
    void queries.invalidateQueries({ queryKey: ['report', job] })
  }
  const path = { job_id: job }
  const change = useMutation({
    mutationFn: (body: Schemas['JobChange']) => dataOf(api.PATCH('/api/jobs/{job_id}', { params: { path }, body })),
    onSuccess,
  })
  const changeItem = useMutation({
    mutationFn: ({ id, ...body }: { id: string } & Schemas['ItemChange']) =>
      dataOf(api.PATCH('/api/items/{item_id}', { params: { path: { item_id: id } }, body })),
    onSuccess,
  })
  const addItem = useMutation({
    mutationFn: (name: string) =>
      dataOf(api.POST('/api/jobs/{job_id}/items', { params: { path }, body: { id: crypto.randomUUID(), name } })),
    onSuccess,
  })
  const addPicture = useMutation({
    mutationFn: ({ file, words }: { file: File; words: string }) => {
      const form = new FormData()
      form.append('file', file)
      form.append('id', crypto.randomUUID())
      form.append('words', words)
      return dataOf(
        api.POST('/api/jobs/{job_id}/pictures', {
          params: { path },
          // the generated type says string for the file's bytes; the form carries the file itself
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      )
    },
    onSuccess,
  })
  const handBack = useMutation({
    mutationFn: (back: boolean) =>
      dataOf(api.POST('/api/jobs/{job_id}/hand-back', { params: { path }, body: { back } })),
    onSuccess,
  })
  const setUp = useMutation({
    mutationFn: (body: Schemas['SetUpIn']) => dataOf(api.POST('/api/jobs/{job_id}/set-up', { params: { path }, body })),
    onSuccess,
  })
  const keepAsModel = useMutation({
    mutationFn: ({ id, name }: { id: string; name: string }) =>
      dataOf(api.POST('/api/items/{item_id}/model', { params: { path: { item_id: id } }, body: { name } })),
    onSuccess: (slip) => {
      onSuccess(slip)
      void queries.invalidateQueries({ queryKey: libraryOptions.queryKey })
    },
  })
  const followModel = useMutation({
    mutationFn: (id: string) => dataOf(api.POST('/api/items/{item_id}/follow', { params: { path: { item_id: id } } })),
    onSuccess,
  })
  const problem = change.error ?? changeItem.error ?? addPicture.error ?? setUp.error
  return { change, changeItem, keepAsModel, followModel, addItem, addPicture, handBack, setUp, problem }
}
