/** A number with what it counts. */
export function count(n: number | bigint, one: string, many = `${one}s`): string {
  return `${n} ${Number(n) === 1 ? one : many}`;
}
