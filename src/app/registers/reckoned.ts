import { useEffect, useRef, useState } from 'react'
import { wordsOf, type Day, type Id, type View } from '../../core/model'
import type { Column, Register } from '../../core/notation'
import { reckonedOf } from '../store/asking'
import { useWorkspace } from '../store/state'

type Value = string | number | undefined

/** What a register says that is reckoned, as it was told last. */
export interface ReckonedCells {
  readonly of: (column: Column, row: Id) => Value
}

const NOTHING: ReckonedCells = { of: () => undefined }

/** Has the worker reckon what the columns of a register say, anew whenever the facts change; of what is asked meanwhile only the newest. */
export function useReckoned(register: Register, view: View | undefined, day: Day): ReckonedCells {
  const model = useWorkspace((state) => state.model)
  const [told, tell] = useState(NOTHING)
  const wanted = useRef<(() => Promise<ReckonedCells>) | undefined>(undefined)
  const asking = useRef(false)
  const isReckoned = register.columns.some((column) => column.isReckoned)
  const id = view?.id
  useEffect(() => {
    if (!isReckoned || id === undefined) return
    wanted.current = () => cellsOf(register, id, day)
    if (asking.current) return
    asking.current = true
    void (async () => {
      while (wanted.current) {
        const ask = wanted.current
        wanted.current = undefined
        tell(await ask())
      }
      asking.current = false
    })()
  }, [isReckoned, register, id, day, model])
  useEffect(
    () => () => {
      wanted.current = undefined
    },
    [],
  )
  return told
}

/** What cannot be reckoned says why, in each of its cells. */
async function cellsOf(register: Register, view: Id, day: Day): Promise<ReckonedCells> {
  try {
    const found = await reckonedOf(register.id, view, day)
    if (!found) return NOTHING
    const at = new Map(found.rows.map((row, i) => [row, i]))
    return { of: ({ id }, row) => found.columns[id]?.[at.get(row) ?? -1] }
  } catch (error) {
    return { of: ({ isReckoned }) => (isReckoned ? wordsOf(error) : undefined) }
  }
}
