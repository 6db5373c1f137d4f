/** A node of a parsed script, as far as the scan looks at it. */
export interface Node {
  readonly type: string;
  readonly start: number;
  readonly end: number;
  /** Lines from 1, columns from 0. */
  readonly loc: { readonly start: { readonly line: number; readonly column: number } };
  readonly [key: string]: unknown;
}

export interface StaticTexts {
  /** What an expression can be, as far as it can be told without running it. */
  readonly texts: readonly string[];
  /** False: it can be something else as well. */
  readonly isWhole: boolean;
  /** A name stood for a text, which another name of a closer scope may hide. */
  readonly isGuess: boolean;
}

const UNKNOWN: StaticTexts = { texts: [], isWhole: false, isGuess: false };

/**
 * The texts that an expression can stand for: literals, templates, sums and choices of them, and constants.
 * Of a template that is not known whole, its beginning counts where the package's name is complete in it.
 */
export function staticTexts(
  node: Node,
  constants: ReadonlyMap<string, string | null>,
): StaticTexts {
  const of = (key: string): StaticTexts => staticTexts(node[key] as Node, constants);
  switch (node.type) {
    case 'StringLiteral':
      return { texts: [node['value'] as string], isWhole: true, isGuess: false };
    case 'TemplateLiteral':
      return templateTexts(node, constants);
    case 'ConditionalExpression':
      return either(of('consequent'), of('alternate'));
    case 'LogicalExpression':
      return either(of('left'), of('right'));
    case 'BinaryExpression': {
      if (node['operator'] !== '+') return UNKNOWN;
      return sum(of('left'), of('right'));
    }
    case 'TSAsExpression':
    case 'TSNonNullExpression':
    case 'TSSatisfiesExpression':
    case 'ParenthesizedExpression':
      return of('expression');
    case 'Identifier': {
      const text = constants.get(node['name'] as string) ?? null;
      return text === null ? UNKNOWN : { texts: [text], isWhole: true, isGuess: true };
    }
    default:
      return UNKNOWN;
  }
}

function either(a: StaticTexts, b: StaticTexts): StaticTexts {
  return {
    texts: [...a.texts, ...b.texts],
    isWhole: a.isWhole && b.isWhole,
    isGuess: a.isGuess || b.isGuess,
  };
}

function sum(a: StaticTexts, b: StaticTexts): StaticTexts {
  if (!a.isWhole || !b.isWhole) return { ...a, texts: completeNames(a.texts), isWhole: false };
  const texts = a.texts.flatMap((left) => b.texts.map((right) => left + right));
  return { texts, isWhole: true, isGuess: a.isGuess || b.isGuess };
}

function templateTexts(node: Node, constants: ReadonlyMap<string, string | null>): StaticTexts {
  const quasis = node['quasis'] as readonly { readonly value: { readonly cooked?: string } }[];
  const expressions = node['expressions'] as readonly Node[];
  let whole: StaticTexts = { texts: [''], isWhole: true, isGuess: false };
  for (const [i, { value }] of quasis.entries()) {
    whole = sum(whole, { texts: [value.cooked ?? ''], isWhole: true, isGuess: false });
    const expression = expressions[i];
    if (expression !== undefined) whole = sum(whole, staticTexts(expression, constants));
    if (!whole.isWhole) break;
  }
  return whole;
}

/** Of beginnings those that hold a package's whole name: a path goes on after it. */
function completeNames(texts: readonly string[]): readonly string[] {
  return texts.filter((text) => text.includes('/'));
}
