/** A binary heap: the entry of least cost comes first. O(log n) each. */
export class Heap<T> {
  readonly #entries: { readonly cost: number; readonly value: T }[] = []

  push(value: T, cost: number): void {
    const heap = this.#entries
    let at = heap.length
    heap.push({ value, cost })
    while (at > 0) {
      const up = (at - 1) >> 1
      if ((heap[up]?.cost ?? 0) <= cost) break
      this.#swap(at, up)
      at = up
    }
  }

  pop(): T | undefined {
    const heap = this.#entries
    const [first] = heap
    const last = heap.pop()
    if (first === undefined || last === undefined || heap.length === 0) return first?.value
    heap[0] = last
    for (let at = 0; ;) {
      const left = 2 * at + 1
      const right = left + 1
      let least = at
      if (this.#cost(left) < this.#cost(least)) least = left
      if (this.#cost(right) < this.#cost(least)) least = right
      if (least === at) return first.value
      this.#swap(at, least)
      at = least
    }
  }

  #cost(index: number): number {
    return this.#entries[index]?.cost ?? Infinity
  }

  #swap(a: number, b: number): void {
    const heap = this.#entries
    const [x, y] = [heap[a], heap[b]]
    if (x && y) [heap[a], heap[b]] = [y, x]
  }
}
