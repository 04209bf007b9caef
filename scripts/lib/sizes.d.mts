export function scriptSizes(): {
  readonly home: number
  readonly workspace: number
  readonly worker: number
  readonly reader: number
}
