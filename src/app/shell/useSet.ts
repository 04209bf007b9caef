import { useEffect, useState } from 'react'
import type { ThemeSpec } from '../../core/model'
import { themeFor, type Scene } from '../../core/scene'
import { themedAs } from '../store/asking'
import { currentView, useWorkspace } from '../store/state'

/** Of more than this the sizes stay as they are shown: a preview is not worth the wait. */
const MOST_DRAWN = 400

/** The scene of the view in the sizes of type of a theme: drawn anew only where they are others than those shown. */
export function useSet(scene: Scene, spec: ThemeSpec): Scene {
  const view = useWorkspace(currentView)
  const shown = useWorkspace(({ model }) => themeFor(model.settings, view?.look ?? {}).type)
  const id = view?.id
  const [drawn, setDrawn] = useState<{ readonly of: Scene; readonly type: number; readonly scene: Scene }>()
  const { type } = spec
  const isOther = type !== shown && scene.items.length <= MOST_DRAWN
  useEffect(() => {
    if (!isOther || id === undefined) return
    let isLeft = false
    void themedAs(id, type).then((made) => {
      if (!isLeft && made) setDrawn({ of: scene, type, scene: made })
    })
    return () => {
      isLeft = true
    }
  }, [scene, id, type, isOther])
  return isOther && drawn?.of === scene && drawn.type === type ? drawn.scene : scene
}
