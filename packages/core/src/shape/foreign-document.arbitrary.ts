import fc from 'fast-check';
import { linePattern, linesSyntax, type Syntax } from './syntax/index.js';
import { JSON_SYNTAX, TOML_SYNTAX, XML_SYNTAX, YAML_SYNTAX } from './syntax/index.js';
import { readQuery, type Query } from './query.js';
import { PLAIN_SPELLING } from './spelling.js';
import type { ManifestShape, RequirementShape } from './shape.js';

/*
 * Foreign manifests in made-up layouts, in every syntax, with random comments, order, quotes, indentation and line ends.
 */

export const NAMES = ['@crew/ash', 'Birch', 'cedar.x', 'dog:wood', 'elm', 'fir_1'];
export const RANGES = ['^1.0.0', '~2.1.0', '1.2.3', '>=1.0.0 <3.0.0', '*', '1.0.0 || 2.0.0'];

export type Wants = readonly (readonly [name: string, range: string])[];

export interface ForeignSketch {
  readonly text: string;
  readonly runtime: Wants;
  readonly dev: Wants;
}

function query(text: string): Query {
  const reading = readQuery(text);
  if (!reading.ok) throw new Error(reading.message);
  return reading.query;
}

function block(
  kind: 'runtime' | 'dev',
  at: string,
  item?: Partial<RequirementShape>,
): RequirementShape {
  return { kind, at: query(at), package: [], join: ':', range: null, when: null, ...item };
}

function shape(syntax: Syntax, requirements: readonly RequirementShape[]): ManifestShape {
  return {
    files: ['**'],
    syntax,
    levels: 0,
    name: null,
    version: null,
    ships: null,
    requirements,
    spelling: PLAIN_SPELLING,
    span: [0, 0],
  };
}

const ITEM = { package: [query('$.id')], range: query('$.wanted') };

/** Decisions about spelling, drawn one by one. */
export class Dice {
  private at = 0;
  constructor(private readonly numbers: readonly number[]) {}
  of<T>(...choices: readonly T[]): T {
    const number = this.numbers[this.at++ % this.numbers.length] ?? 0;
    return choices[number % choices.length]!;
  }
}

type Render = (runtime: Wants, dev: Wants, dice: Dice) => string;

const json: Render = (runtime, dev, dice) => {
  const table = (wants: Wants, pad: string): string => {
    if (wants.length === 0) return '{}';
    if (dice.of(true, false, false))
      return `{ ${wants.map(([n, r]) => `${JSON.stringify(n)}: ${JSON.stringify(r)}`).join(', ')} }`;
    const lines = wants.map(([n, r], i) => {
      const comma = i < wants.length - 1 || dice.of(true, false) ? ',' : '';
      const above = dice.of('', '', `${pad}  // above ${i}\n`);
      return `${above}${pad}  ${JSON.stringify(n)}:${dice.of(' ', '')}${JSON.stringify(r)}${comma}${dice.of('', '', ` // beside ${i}`, ' /* x */')}\n`;
    });
    return `{\n${lines.join('')}${pad}}`;
  };
  return `${dice.of('', '// a file\n')}{\n  "app": { "id": "x" },\n  "libraries": ${table(runtime, '  ')},\n  "tools": ${table(dev, '  ')}\n}\n`;
};

const jsonItems: Render = (runtime, dev, dice) => {
  const list = (wants: Wants): string => {
    if (dice.of(true, false))
      return `[${wants.map(([n, r]) => `{"id": ${JSON.stringify(n)}, "wanted": ${JSON.stringify(r)}}`).join(', ')}]`;
    const items = wants.map(
      ([n, r], i) =>
        `    {\n      "id": ${JSON.stringify(n)},${dice.of('', ` // beside ${i}`)}\n      "wanted": ${JSON.stringify(r)}\n    }`,
    );
    return items.length === 0 ? '[]' : `[\n${items.join(',\n')}\n  ]`;
  };
  return `{\n  "libraries": ${list(runtime)},\n  "tools": ${list(dev)}\n}\n`;
};

const quoteYaml = (text: string, dice: Dice): string =>
  dice.of(true, false) || !/^[\w^~]/.test(text) || /: |[:#]/.test(text)
    ? dice.of(JSON.stringify(text), `'${text}'`)
    : text;

const yaml: Render = (runtime, dev, dice) => {
  const pad = dice.of('  ', '    ');
  const table = (wants: Wants): string => {
    if (wants.length === 0) return ' {}\n';
    if (dice.of(true, false, false))
      return ` { ${wants.map(([n, r]) => `${JSON.stringify(n)}: ${quoteYaml(r, dice).replace(/^([^"'].*[|<>=].*)$/, '"$1"')}`).join(', ')} }\n`;
    return `\n${wants
      .map(
        ([n, r], i) =>
          `${dice.of('', '', `${pad}# above ${i}\n`)}${pad}${quoteYaml(n, dice)}: ${quoteYaml(r, dice)}${dice.of('', '', ` # beside ${i}`)}\n${dice.of('', '', '\n')}`,
      )
      .join('')}`;
  };
  return `${dice.of('', '---\n')}app:\n${pad}id: x\nlibraries:${table(runtime)}tools:${table(dev)}`;
};

const yamlItems: Render = (runtime, dev, dice) => {
  const pad = dice.of('', '  ');
  const list = (wants: Wants): string => {
    if (wants.length === 0) return ' []\n';
    if (dice.of(true, false, false))
      return ` [${wants.map(([n, r]) => `{ id: ${JSON.stringify(n)}, wanted: ${JSON.stringify(r)} }`).join(', ')}]\n`;
    return `\n${wants
      .map(
        ([n, r], i) =>
          `${dice.of('', `${pad}# above ${i}\n`)}${pad}- id: ${quoteYaml(n, dice)}\n${pad}  wanted: ${quoteYaml(r, dice)}${dice.of('', ` # beside ${i}`)}\n`,
      )
      .join('')}`;
  };
  return `libraries:${list(runtime)}tools:${list(dev)}`;
};

const toml: Render = (runtime, dev, dice) => {
  const table = (wants: Wants): string =>
    wants
      .map(
        ([n, r], i) =>
          `${dice.of('', '', `# above ${i}\n`)}${JSON.stringify(n)} = ${dice.of(JSON.stringify(r), `'${r}'`)}${dice.of('', ` # beside ${i}`)}\n`,
      )
      .join('');
  return `title = "x"\n\n[libraries]\n${table(runtime)}\n[tools]\n${table(dev)}`;
};

const xml: Render = (runtime, dev, dice) => {
  const escape = (text: string): string => text.replaceAll('<', '&lt;').replaceAll('>', '&gt;');
  const item = (name: string, [n, r]: readonly [string, string], pad: string): string =>
    `${pad}<${name} id=${dice.of('"', "'") === '"' ? `"${n}"` : `'${n}'`}${dice.of('', ' ')} wanted="${escape(r)}"${dice.of('/>', ' />', `></${name}>`)}\n`;
  const list = (tag: string, name: string, wants: Wants): string =>
    wants.length === 0
      ? `  <${tag}/>\n`
      : `  <${tag}>\n${wants.map((one, i) => `${dice.of('', `    <!-- above ${i} -->\n`)}${item(name, one, '    ')}`).join('')}  </${tag}>\n`;
  return `${dice.of('', '<?xml version="1.0"?>\n')}<app id="x">\n${list('libraries', 'lib', runtime)}${list('tools', 'tool', dev)}</app>\n`;
};

const lines: Render = (runtime, dev, dice) =>
  `# a file\n${[...runtime, ...dev].map(([n, r]) => `${dice.of('', '  ')}use ${n} at ${r}${dice.of('', ' ')}\n${dice.of('', '\n', '# note\n')}`).join('')}end\n`;

const pattern = linePattern('^[ \\t]*use (?P<package>\\S+) at (?P<range>[^\\n\\r]*?)[ \\t]*\\r?$');
if (!pattern.ok) throw new Error(pattern.message);

const XML_ITEM = { package: [query("$['@id']")], range: query("$['@wanted']") };

/** Every layout; of lines all requirements are of one kind. */
export const LAYOUTS: Readonly<Record<string, readonly [ManifestShape, Render]>> = {
  json: [shape(JSON_SYNTAX, [block('runtime', '$.libraries'), block('dev', '$.tools')]), json],
  'json items': [
    shape(JSON_SYNTAX, [
      block('runtime', '$.libraries[*]', ITEM),
      block('dev', '$.tools[*]', ITEM),
    ]),
    jsonItems,
  ],
  yaml: [shape(YAML_SYNTAX, [block('runtime', '$.libraries'), block('dev', '$.tools')]), yaml],
  'yaml items': [
    shape(YAML_SYNTAX, [block('runtime', '$.libraries[*]', ITEM), block('dev', '$.tools', ITEM)]),
    yamlItems,
  ],
  toml: [shape(TOML_SYNTAX, [block('runtime', '$.libraries'), block('dev', '$.tools')]), toml],
  xml: [
    shape(XML_SYNTAX, [
      block('runtime', '$.app[0].libraries[*].lib[*]', XML_ITEM),
      block('dev', '$.app[0].tools[*].tool[*]', XML_ITEM),
    ]),
    xml,
  ],
  lines: [
    shape(linesSyntax(pattern.pattern), [
      block('runtime', '$[*]', { package: [query('$.package')], range: query('$.range') }),
    ]),
    lines,
  ],
};

const anyWants = (names: readonly string[]): fc.Arbitrary<Wants> =>
  fc.uniqueArray(fc.tuple(fc.constantFrom(...names), fc.constantFrom(...RANGES)), {
    selector: ([name]) => name,
    maxLength: 4,
  });

export function anyForeign(layout: string): fc.Arbitrary<ForeignSketch> {
  const [, render] = LAYOUTS[layout]!;
  return fc
    .record({
      runtime: anyWants(NAMES.slice(0, 4)),
      dev: anyWants(NAMES.slice(4)),
      dice: fc.array(fc.nat(5), { minLength: 1, maxLength: 30 }),
      isWindows: fc.boolean(),
    })
    .map(({ runtime, dev, dice, isWindows }) => {
      const text = render(runtime, dev, new Dice(dice));
      const isOne = layout === 'lines';
      return {
        text: isWindows ? text.replaceAll('\n', '\r\n') : text,
        runtime: isOne ? [...runtime, ...dev] : runtime,
        dev: isOne ? [] : dev,
      };
    });
}
