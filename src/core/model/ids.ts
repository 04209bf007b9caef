/** The identity of a fact, 1 to 64 characters, unique within its workspace and sort (entity, relation or view). */
export type Id = string & { readonly __brand: 'Id' }

export const isId = (text: unknown): text is Id =>
  typeof text === 'string' &&
  text.length > 0 &&
  text.length <= 64 &&
  !/[\s/<>"'&\p{Cc}\p{Cs}\ufffe\uffff]/u.test(text) &&
  text !== '__proto__'

/** @throws RangeError for a text that cannot be an identity. */
export function asId(text: string): Id {
  if (!isId(text)) throw new RangeError(`“${text.slice(0, 80)}” cannot be an identity`)
  return text
}

/** An identity that is not taken yet, made from another one: a rule's fix has no dice. */
export function freeId(taken: ReadonlyMap<Id, unknown>, base: string): Id {
  const stem = base.slice(0, 56)
  let id = asId(stem)
  for (let count = 2; taken.has(id); count++) id = asId(`${stem}-${count}`)
  return id
}
