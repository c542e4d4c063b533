/** A queue that gives the greatest first (binary heap). */
export class Heap<T> {
  private readonly items: { key: number; value: T }[] = [];

  get size(): number {
    return this.items.length;
  }

  /** The greatest key; −Infinity when there is none. */
  get top(): number {
    return this.items[0]?.key ?? Number.NEGATIVE_INFINITY;
  }

  push(key: number, value: T): void {
    const { items } = this;
    let at = items.length;
    items.push({ key, value });
    while (at > 0) {
      const parent = (at - 1) >> 1;
      const above = items[parent] as { key: number; value: T };
      if (above.key >= key) break;
      items[at] = above;
      at = parent;
    }
    items[at] = { key, value };
  }

  pop(): T | undefined {
    const { items } = this;
    const [first] = items;
    const last = items.pop();
    if (!first || !last || items.length === 0) return first?.value;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= items.length) break;
      if (child + 1 < items.length && (items[child + 1] as { key: number }).key > (items[child] as { key: number }).key) child++;
      const below = items[child] as { key: number; value: T };
      if (below.key <= last.key) break;
      items[at] = below;
      at = child;
    }
    items[at] = last;
    return first.value;
  }
}
