import parse, { type Info } from 'spdx-expression-parse';

/**
 * Is an SPDX expression one that the allowed licences satisfy? Of `OR` one side must be, of `AND` both. An
 * identifier with an exception is allowed where the identifier is. Nothing named, or what is no expression, is not.
 * O(length).
 * @param allowed none: any will do, also none at all
 */
export function isLicenceAllowed(expression: string | null, allowed: readonly string[]): boolean {
  if (allowed.length === 0) return true;
  if (expression === null) return false;
  try {
    return satisfies(parse(expression), new Set(allowed.map((one) => one.toLowerCase())));
  } catch {
    // The parser says so of text that is no expression.
    return false;
  }
}

function satisfies(info: Info, allowed: ReadonlySet<string>): boolean {
  if ('conjunction' in info) {
    const sides = [info.left, info.right];
    const isMet = (side: Info): boolean => satisfies(side, allowed);
    return info.conjunction === 'and' ? sides.every(isMet) : sides.some(isMet);
  }
  const id = `${info.license}${info.plus === true ? '+' : ''}`.toLowerCase();
  return allowed.has(id) || allowed.has(info.license.toLowerCase());
}
