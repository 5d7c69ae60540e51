// A file that is dropped on the bench: a drawing is read, a photograph lies under the work.

import { useEffect } from 'react'
import { asProblem } from '../../shared/api/client'
import { useView } from '../../shared/view/view'
import { layPhoto } from '../../stages/build/photo'
import { useBuild } from '../../stages/build/store'
import { useSavingFile } from './saving'

function take(file: File) {
  if (useView.getState().stage !== 'build') useView.getState().setStage('build')
  if (file.type.startsWith('image/') && file.type !== 'image/svg+xml')
    return void layPhoto(file).catch((error) => useSavingFile.setState({ problem: asProblem(error) }))
  useBuild.getState().pick('drawing')
  useBuild.setState({ dropped: file })
}

/** Takes files that are dropped anywhere on the bench, unless something there has taken them. */
export function useDroppedFiles() {
  useEffect(() => {
    const over = (event: DragEvent) => {
      if (event.dataTransfer?.types.includes('Files')) event.preventDefault()
    }
    const drop = (event: DragEvent) => {
      const file = event.dataTransfer?.files[0]
      if (!file || event.defaultPrevented) return
      event.preventDefault()
      take(file)
    }
    window.addEventListener('dragover', over)
    window.addEventListener('drop', drop)
    return () => {
      window.removeEventListener('dragover', over)
      window.removeEventListener('drop', drop)
    }
  }, [])
}
