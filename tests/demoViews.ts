import type { View } from '../src/core/model'
import type { Picture } from '../src/core/notation'
import { registry } from '../src/core/notations'
import { marramSoundFerries } from '../src/demo'

/** Every view of the demo with each picture that draws something of what its own draws; of arrangements of the same lines all for the first view alone. */
export const demoViews: readonly { readonly view: View; readonly picture: Picture }[] = [
  ...marramSoundFerries().views.values(),
].flatMap((view) => {
  const pictures = registry.notations.find(({ id }) => id === view.notation)?.pictures ?? []
  const [first] = [...marramSoundFerries().views.values()].filter(({ notation }) => notation === view.notation)
  const own = new Set(pictures.find(({ id }) => id === view.picture)?.draws)
  return pictures.flatMap((picture) =>
    picture.id === view.picture ||
    ((!picture.arranges || first?.id === view.id) && picture.draws.some((kind) => own.has(kind)))
      ? [{ view: { ...view, picture: picture.id }, picture }]
      : [],
  )
})
