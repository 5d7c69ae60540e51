import { useMutation, useQueryClient } from '@tanstack/react-query'
import { answer, api } from '../../shared/api/client'
import type { FaceOut } from '../../shared/design/recipe'

/** Puts a face among the shop's favourites, or takes it out. */
export function useFavour() {
  const queries = useQueryClient()
  const { mutate } = useMutation({
    mutationFn: ({ face, on }: { face: FaceOut; on: boolean }) => {
      const params = { params: { path: { slug: face.slug } } }
      return answer(
        on
          ? api.PUT('/api/favourite-faces/{slug}', params)
          : api.DELETE('/api/favourite-faces/{slug}', params),
      )
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['faces'] }),
  })
  return (face: FaceOut, on: boolean) => mutate({ face, on })
}
