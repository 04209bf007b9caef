import { endpoint, json, keepPhoto, PHOTO_MOST, readBytes, theStore } from '../../../../../server'

/** Takes a photo, or with `?shape=whole` a picture that is not cropped, with `?shape=kept` one of another workspace as it is: PNG, JPEG or WebP, 5 MB at most. */
export const POST = endpoint(async ({ params, request, url }) => {
  const asked = url.searchParams.get('shape')
  const shape = asked === 'whole' || asked === 'kept' ? asked : 'square'
  const bytes = await readBytes(request, PHOTO_MOST)
  return json(await keepPhoto(theStore(), params['id'] ?? '', bytes, shape), 201)
})
