/**
 * The turns that wait, taken lowest first; each waits at most once. A binary heap.
 * O(log waiting) for each addition and each taking.
 * Source: J. W. J. Williams, Algorithm 232: Heapsort, Communications of the ACM 7(6), 1964.
 */
export class PackageQueue {
  private readonly heap: number[] = [];
  private readonly isWaiting: Uint8Array;

  constructor(turns: number) {
    this.isWaiting = new Uint8Array(turns);
  }

  get size(): number {
    return this.heap.length;
  }

  add(turn: number): void {
    if (this.isWaiting[turn] === 1) return;
    this.isWaiting[turn] = 1;
    const { heap } = this;
    let at = heap.push(turn) - 1;
    while (at > 0) {
      const parent = (at - 1) >> 1;
      if (heap[parent]! <= turn) break;
      heap[at] = heap[parent]!;
      at = parent;
    }
    heap[at] = turn;
  }

  /** Takes a turn out if it is the next one. */
  skip(turn: number): void {
    if (this.heap[0] === turn) this.next();
  }

  next(): number | null {
    const { heap } = this;
    const lowest = heap[0];
    if (lowest === undefined) return null;
    const last = heap.pop()!;
    if (heap.length > 0) this.sink(last);
    this.isWaiting[lowest] = 0;
    return lowest;
  }

  private sink(turn: number): void {
    const { heap } = this;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= heap.length) break;
      if (child + 1 < heap.length && heap[child + 1]! < heap[child]!) child += 1;
      if (heap[child]! >= turn) break;
      heap[at] = heap[child]!;
      at = child;
    }
    heap[at] = turn;
  }
}
