// The photograph under the work: laid there, moved, and scaled by two points and the length between them.

import { answer, api } from '../../shared/api/client'
import { download } from '../../shared/api/download'
import { upload } from '../../shared/api/upload'
import type { Recipe } from '../../shared/design/recipe'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { evaluationNow } from '../../shared/evaluation/store'
import type { Spot } from '../../shared/view/view'

export type Photo = NonNullable<Recipe['photo']>

/** A photograph is laid so many times as wide as the work, or as a window is. */
const TIMES_THE_WORK = 1.8
const USUAL_MM = 600

/** Changes the photograph; part of a drag unless said otherwise. */
export function editPhoto(change: Partial<Photo>) {
  const { recipe, editRecipe } = useDesign.getState()
  if (recipe.photo) editRecipe({ photo: { ...recipe.photo, ...change } })
}

export function takePhotoAway() {
  editRecipeOnce({ photo: null })
}

/** Keeps a photograph and lays it under the work. Throws the Problem that it has. */
export async function layPhoto(file: File) {
  const kept = await answer(api.POST('/api/photos', upload(file)))
  const box = evaluationNow()?.box
  const wide = box && box.width > 0 ? box.width * TIMES_THE_WORK : USUAL_MM
  const photo: Photo = {
    image: kept.image,
    x: box ? rounded(box.x + box.width / 2) : 0,
    y: box ? rounded(box.y + box.height / 2) : 0,
    width_mm: rounded(wide),
    height_mm: rounded((wide * kept.height_px) / kept.width_px),
    turn: 0,
    shows: 1,
    hidden: false,
  }
  editRecipeOnce({ photo })
}

const rounded = (mm: number) => Math.round(mm * 100) / 100

/** A photograph made larger or smaller, so that two places on it are so far apart; the first stays. */
export function scaledBy(photo: Photo, [from, to]: readonly [Spot, Spot], mm: number): Photo {
  const apart = Math.hypot(to.x - from.x, to.y - from.y)
  const by = apart > 0 ? mm / apart : 1
  return {
    ...photo,
    x: rounded(from.x + (photo.x - from.x) * by),
    y: rounded(from.y + (photo.y - from.y) * by),
    width_mm: rounded(photo.width_mm * by),
    height_mm: rounded(photo.height_mm * by),
  }
}

/** Saves a picture of the work on its photograph. */
export async function saveProof() {
  const { name, recipe } = useDesign.getState()
  await download(api.POST('/api/proof', { body: { name, recipe }, parseAs: 'blob' }))
}
