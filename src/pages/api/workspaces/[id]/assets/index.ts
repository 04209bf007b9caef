import { endpoint, json, keepPhoto, PHOTO_MOST, readBytes, theStore } from '../../../../../server'

/** Takes a photo: PNG, JPEG or WebP, 5 MB at most. */
export const POST = endpoint(async ({ params, request }) => {
  const bytes = await readBytes(request, PHOTO_MOST)
  return json(await keepPhoto(theStore(), params['id'] ?? '', bytes), 201)
})
