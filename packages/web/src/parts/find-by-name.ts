/** Something that can be found. */
export interface Findable {
  /** What is matched, and shown with the matched letters marked. */
  readonly name: string;
}

/** From and up to which letter a name matches. */
export type Mark = readonly [from: number, to: number];

export interface Found<T extends Findable> {
  readonly item: T;
  readonly marks: readonly Mark[];
}

export interface FoundList<T extends Findable> {
  /** The best ones. */
  readonly shown: readonly Found<T>[];
  /** How many match. */
  readonly total: number;
  /** Of the best one: 0 the name itself, 1 its beginning, 2 the beginning of a part of it, 3 within; infinite: none. */
  readonly rank: number;
}

/**
 * Things whose name has the text in it: the very name first, then names that begin with it, then those of which a part
 * begins with it, then the rest; equal ones in their own order. O(letters of all names).
 * @param text in any case; an empty one matches nothing
 */
export function findByName<T extends Findable>(
  items: readonly T[],
  text: string,
  most: number,
): FoundList<T> {
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return { shown: [], total: 0, rank: Infinity };
  const ranked = items.flatMap((item) => {
    const name = item.name.toLowerCase();
    const place = placeOf(name, wanted);
    if (place < 0) return [];
    const rank = name === wanted ? 0 : place === 0 ? 1 : startsPart(name, place) ? 2 : 3;
    return [{ rank, item, marks: [[place, place + wanted.length] as const] }];
  });
  ranked.sort((a, b) => a.rank - b.rank);
  return {
    shown: ranked.slice(0, most),
    total: ranked.length,
    rank: ranked[0]?.rank ?? Infinity,
  };
}

/** Things whose name has all words of the text in it, in any order; in their own order. O(letters of all names). */
export function findByWords<T extends Findable>(
  items: readonly T[],
  text: string,
  most: number,
): FoundList<T> {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return { shown: [], total: 0, rank: Infinity };
  const found = items.flatMap((item) => {
    const name = item.name.toLowerCase();
    const marks = words.map((word): Mark => {
      const at = name.indexOf(word);
      return [at, at + word.length];
    });
    return marks.some(([at]) => at < 0) ? [] : [{ item, marks: joined(marks) }];
  });
  return {
    shown: found.slice(0, most),
    total: found.length,
    rank: found.length > 0 ? 3 : Infinity,
  };
}

/** Where the text is in a name, the beginning of a part before any other place; -1: nowhere. */
function placeOf(name: string, text: string): number {
  const first = name.indexOf(text);
  for (let at = first; at >= 0; at = name.indexOf(text, at + 1))
    if (at === 0 || startsPart(name, at)) return at;
  return first;
}

function startsPart(name: string, at: number): boolean {
  return !/[a-z0-9]/.test(name[at - 1] ?? '-');
}

/** Marks in order, those that touch made one. */
function joined(marks: readonly Mark[]): readonly Mark[] {
  const inOrder = [...marks].sort(([a], [b]) => a - b);
  return inOrder.reduce<Mark[]>((list, [from, to]) => {
    const last = list.at(-1);
    if (last !== undefined && from <= last[1])
      list[list.length - 1] = [last[0], Math.max(last[1], to)];
    else list.push([from, to]);
    return list;
  }, []);
}
