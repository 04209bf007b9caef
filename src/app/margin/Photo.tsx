import { useState } from 'react'
import type { Entity, StepValue } from '../../core/model'
import type { Field } from '../../core/notation'
import { takeImage } from '../images'
import { assetAddress } from '../picture'
import { make } from '../store/changes'
import { useParts } from '../store/state'

/** A picture of an entity: chosen from a file, drawn anew by the server, shown, and taken away. */
export function Photo({ entity, field }: { entity: Entity; field: Field }) {
  const { id } = useParts('id')
  const [busy, setBusy] = useState(false)
  const asset = entity.fields[field.id]
  const set = (value: StepValue, label: string) =>
    make({ label, steps: [{ do: 'set-entity', id: entity.id, path: `fields.${field.id}`, value }] })
  const take = async (file: File | undefined) => {
    if (!file) return
    setBusy(true)
    try {
      await takeImage(entity.id, field, file)
    } finally {
      setBusy(false)
    }
  }
  return (
    <div className="mt-1 grid grid-cols-[96px_1fr] items-start">
      <span className="text-quiet">{field.label}</span>
      <span className="flex items-center gap-3">
        {typeof asset === 'string' && (
          <img
            src={assetAddress(id, asset)}
            alt={entity.name}
            className="h-[48px] w-[48px] rounded-[3px] object-cover"
          />
        )}
        <label className="verb cursor-pointer text-[12px]">
          {busy ? 'Sending …' : asset ? 'Another' : 'Choose a file'}
          <input
            type="file"
            accept="image/png,image/jpeg,image/webp"
            className="sr-only"
            disabled={busy}
            onChange={(event) => {
              void take(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </label>
        {asset !== undefined && (
          <button
            type="button"
            className="verb text-[12px]"
            onClick={() => set(null, `Take away ${field.label.toLowerCase()} of “${entity.name}”`)}
          >
            Take away
          </button>
        )}
      </span>
    </div>
  )
}
