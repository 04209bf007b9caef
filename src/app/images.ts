import type { DragEvent } from 'react'
import type { Entity, Id } from '../core/model'
import { fieldsOfKind, type Field } from '../core/notation'
import { handlings } from '../core/notations/handling'
import { factOf, type Item } from '../core/scene'
import { bringFile, isPicture, takeCarried } from './portion'
import { make } from './store/changes'
import { notify, useWorkspace } from './store/state'
import { ApiError, sendBytes } from './sync/api'

const MOST_BYTES = 5_000_000

/** The fields of an entity that hold a picture, its own before the small one that any may have. */
function imageFieldsOf({ kind }: Entity): readonly Field[] {
  const known = handlings.kinds.get(kind)
  return known ? fieldsOfKind(known).filter(({ type }) => type === 'image') : []
}

/** Where a picture goes that is dropped on an item: where the view draws it, as a photo of whoever holds a position; else on the fact itself. */
function placeFor(item: Item): { readonly entity: Entity; readonly field: Field } | undefined {
  const { model, viewId } = useWorkspace.getState()
  const options = viewId === undefined ? undefined : model.views.get(viewId)?.options
  const places = [factOf(item), ...item.facts].flatMap((id) => {
    const entity = model.entities.get(id)
    return entity ? imageFieldsOf(entity).map((field) => ({ entity, field })) : []
  })
  return places.find(({ field }) => options?.[field.id] === true) ?? places[0]
}

/** Sends a picture to the server, which draws it anew, and answers its identity; why it is not taken is said in words. */
export async function sendPicture(file: File, shape?: 'whole'): Promise<string | undefined> {
  const { id } = useWorkspace.getState()
  if (file.size > MOST_BYTES) {
    notify(`“${file.name}” is larger than 5 MB. Choose a smaller one.`, 'refusal')
    return undefined
  }
  try {
    const path = `/api/workspaces/${id}/assets${shape ? `?shape=${shape}` : ''}`
    return (await sendBytes<{ id: string }>(path, file)).id
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    notify(error.message, 'refusal')
    return undefined
  }
}

/** Sends a picture and sets it as that of a fact. */
export async function takeImage(fact: Id, field: Field, file: File): Promise<void> {
  const asset = await sendPicture(file, field.whole ? 'whole' : undefined)
  if (asset === undefined) return
  const name = useWorkspace.getState().model.entities.get(fact)?.name ?? ''
  const step = { do: 'set-entity', id: fact, path: `fields.${field.id}`, value: asset } as const
  make({ label: `Set ${field.label.toLowerCase()} of “${name}”`, steps: [step] })
}

/** What an element does with a file that is dropped on it: it becomes the picture of what is under the pointer. */
export const takingImages = (itemAt: (event: DragEvent) => Item | undefined) => ({
  onDragOver: (event: DragEvent) => {
    if (event.dataTransfer.types.includes('Files')) event.preventDefault()
  },
  onDrop: (event: DragEvent) => {
    const [file] = event.dataTransfer.files
    if (!file) return
    event.preventDefault()
    if (/\.(json|pdf)$/i.test(file.name)) return void bringFile(file)
    const item = itemAt(event)
    const put = () => {
      const place = item && placeFor(item)
      if (place) void takeImage(place.entity.id, place.field, file)
      else notify('Drop a picture on something that can show one, or one that carries its facts.', 'refusal')
    }
    if (!isPicture(file)) return put()
    // A picture that carries facts is one of them; any other is put where it was dropped.
    void takeCarried(file).then((isTaken) => {
      if (!isTaken) put()
    })
  },
})
