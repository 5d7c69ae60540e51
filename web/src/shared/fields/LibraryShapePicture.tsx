import { useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../api/client'

export type LibraryShape = Schemas['LibraryShapeOut']

export const useLibraryShapes = () =>
  useQuery({
    queryKey: ['library-shapes'],
    queryFn: () => answer(api.GET('/api/forms')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data

/** A shape of the library; pictures are 100 in their larger measure, around 0, 0. */
export function LibraryShapePicture({ shape }: { shape: LibraryShape }) {
  return (
    <svg width="100%" height="100%" viewBox="-52 -52 104 104" aria-hidden="true">
      <path d={shape.d} fill="var(--chakra-colors-ink)" />
    </svg>
  )
}
