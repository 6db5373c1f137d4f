import { parse, type ParserOptions, type ParserPlugin } from '@babel/parser';
import { packageOfSpecifier } from './package-of-specifier.js';
import type { ReferenceForm, SourceReference, SourceScan, UnseenReference } from './source-scan.js';
import { staticTexts, type Node } from './static-texts.js';

/** Which language a script is written in. */
export type ScriptLanguage = 'ts' | 'tsx' | 'js';

const PLUGINS: readonly ParserPlugin[] = [
  'decorators',
  'decoratorAutoAccessors',
  'explicitResourceManagement',
  'sourcePhaseImports',
  'deferredImportEvaluation',
];

const PLUGINS_OF: Readonly<Record<ScriptLanguage, readonly ParserPlugin[]>> = {
  ts: [...PLUGINS, 'typescript'],
  tsx: [...PLUGINS, 'typescript', 'jsx'],
  js: [...PLUGINS, 'jsx'],
};

const OPTIONS: ParserOptions = {
  sourceType: 'unambiguous',
  errorRecovery: true,
  attachComment: false,
  createImportExpressions: true,
  allowReturnOutsideFunction: true,
  allowAwaitOutsideFunction: true,
  allowSuperOutsideMethod: true,
  allowUndeclaredExports: true,
  allowNewTargetOutsideFunction: true,
};

/** Without one of these words a script refers to nothing outside of it. */
const MAY_REFER = /\b(?:import|require|from|reference|resolve|module|jsxImportSource)\b/;

/**
 * The packages that TypeScript or JavaScript refers to, in whatever form: static and dynamic imports,
 * re-exports, `require`, imports of types, resolving alone, and what comments say to the type checker.
 * @param firstLine the line of its file on which the script begins, from 1
 * O(length): one parse and one walk.
 */
export function scanScript(text: string, language: ScriptLanguage, firstLine = 1): SourceScan {
  if (!MAY_REFER.test(text)) return { references: [], unseen: [] };
  const tried: readonly ScriptLanguage[] = language === 'js' ? ['js', 'tsx'] : [language];
  for (const one of tried) {
    try {
      const plugins = [...PLUGINS_OF[one]];
      const file = parse(text, { ...OPTIONS, plugins, startLine: firstLine });
      return new ScriptWalk(text, file as unknown as Node).run();
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      if (one !== tried.at(-1)) continue;
      const line = (error as { loc?: { line: number } }).loc?.line ?? firstLine;
      return {
        references: [],
        unseen: [{ line, what: 'syntax', text: error.message.split('\n', 1)[0]! }],
      };
    }
  }
  throw new Error('no language was tried');
}

class ScriptWalk {
  private readonly references: SourceReference[] = [];
  private readonly unseen: UnseenReference[] = [];
  /** Texts of constants of the file; null: declared more than once, so nobody knows which is meant. */
  private readonly constants = new Map<string, string | null>();
  /** `require` and names made by createRequire. */
  private readonly requireNames = new Set(['require']);
  private isRequireOurs = false;

  constructor(
    private readonly text: string,
    private readonly file: Node,
  ) {}

  run(): SourceScan {
    const nodes = wantedNodes(this.file);
    for (const node of nodes) this.learn(node);
    for (const node of nodes) this.look(node);
    for (const comment of (this.file['comments'] ?? []) as readonly Node[]) this.read(comment);
    this.references.sort((a, b) => a.line - b.line || a.column - b.column);
    this.unseen.sort((a, b) => a.line - b.line);
    return { references: this.references, unseen: this.unseen };
  }

  /** Remembers what names stand for. */
  private learn(node: Node): void {
    if (node.type === 'VariableDeclaration' && node['kind'] === 'const') {
      for (const { id, init } of node['declarations'] as readonly { id: Node; init: Node | null }[])
        if (id.type === 'Identifier' && init !== null) this.learnConstant(id, init);
    } else if (bindsRequire(node)) this.isRequireOurs = true;
  }

  private learnConstant(id: Node, init: Node): void {
    const name = id['name'] as string;
    const made = init.type === 'CallExpression' ? (init['callee'] as Node) : null;
    const called = made?.['name'] ?? (made?.['property'] as Node | undefined)?.['name'];
    if (called === 'createRequire') this.requireNames.add(name);
    else if (name === 'require') this.isRequireOurs = true;
    const text = init.type === 'StringLiteral' ? (init['value'] as string) : null;
    this.constants.set(name, this.constants.has(name) ? null : text);
  }

  private look(node: Node): void {
    switch (node.type) {
      case 'ImportDeclaration':
        return this.add(node['source'] as Node, 'import', isTypeOnly(node, 'importKind'));
      case 'ExportNamedDeclaration':
      case 'ExportAllDeclaration':
        if (node['source'])
          this.add(node['source'] as Node, 'export', isTypeOnly(node, 'exportKind'));
        return;
      case 'ImportExpression':
        return this.add(node['source'] as Node, 'import()', false);
      case 'TSExternalModuleReference':
        return this.add(node['expression'] as Node, 'require', false);
      case 'TSImportType': {
        const argument = node['argument'] as Node;
        const literal =
          argument.type === 'TSLiteralType' ? (argument['literal'] as Node) : argument;
        return this.add(literal, 'import type', true);
      }
      case 'TSModuleDeclaration':
        if ((node['id'] as Node).type === 'StringLiteral')
          this.add(node['id'] as Node, 'augmentation', true);
        return;
      case 'CallExpression':
      case 'OptionalCallExpression':
        return this.lookAtCall(node);
    }
  }

  private lookAtCall(node: Node): void {
    const [argument] = node['arguments'] as readonly Node[];
    if (argument === undefined) return;
    const callee = node['callee'] as Node;
    if (callee.type === 'Identifier') {
      if (this.requireNames.has(callee['name'] as string))
        this.add(argument, 'require', false, !this.isRequireOurs);
      return;
    }
    const made = callee.type === 'CallExpression' ? (callee['callee'] as Node) : null;
    if (made?.type === 'Identifier' && made['name'] === 'createRequire')
      return this.add(argument, 'require', false);
    if (callee.type !== 'MemberExpression' && callee.type !== 'OptionalMemberExpression') return;
    const object = callee['object'] as Node;
    const property = (callee['property'] as Node)['name'];
    const isOfRequire =
      object.type === 'Identifier' && this.requireNames.has(object['name'] as string);
    if (property === 'resolve' && (isOfRequire || object.type === 'MetaProperty'))
      this.add(argument, 'resolve', false, object.type === 'MetaProperty' || !this.isRequireOurs);
    else if (property === 'require' && object['name'] === 'module')
      this.add(argument, 'require', false);
  }

  private add(source: Node, form: ReferenceForm, isTypeOnly: boolean, isSure = true): void {
    const { texts, isWhole, isGuess } = staticTexts(source, this.constants);
    const { line, column } = source.loc.start;
    for (const specifier of texts) {
      const name = packageOfSpecifier(specifier);
      if (name === null) continue;
      const place = { line, column: column + 1 };
      const sure = isSure && !isGuess;
      this.references.push({ package: name, specifier, form, ...place, isTypeOnly, isSure: sure });
    }
    if (isWhole) return;
    const text = this.text.slice(source.start, source.end).split('\n', 1)[0]!.slice(0, 120);
    this.unseen.push({ line, what: 'computed', text });
  }

  /** What comments say to the type checker. */
  private read(comment: Node): void {
    const value = comment['value'] as string;
    for (const { pattern, isBlock } of COMMENT_FORMS) {
      if (isBlock !== (comment.type === 'CommentBlock')) continue;
      for (const match of value.matchAll(pattern)) {
        const specifier = match[1]!;
        const name = packageOfSpecifier(specifier);
        if (name === null) continue;
        const before = value.slice(0, match.index).split('\n');
        const { line, column } = comment.loc.start;
        this.references.push({
          package: name,
          specifier,
          form: 'comment',
          line: line + before.length - 1,
          column: before.length > 1 ? before.at(-1)!.length + 1 : column + 3 + match.index,
          isTypeOnly: true,
          isSure: false,
        });
      }
    }
  }
}

const COMMENT_FORMS: readonly { readonly pattern: RegExp; readonly isBlock: boolean }[] = [
  { pattern: /^\/\s*<reference\s[^>]*?\btypes\s*=\s*["']([^"']+)["']/g, isBlock: false },
  { pattern: /@jsxImportSource\s+([^\s*]+)/g, isBlock: true },
  { pattern: /\{[^{}@]*?\bimport\(\s*["']([^"']+)["']\s*\)/g, isBlock: true },
  { pattern: /@import\s+[^"'@]*?\bfrom\s+["']([^"']+)["']/g, isBlock: true },
];

function isTypeOnly(node: Node, key: 'importKind' | 'exportKind'): boolean {
  if (node[key] === 'type') return true;
  const specifiers = (node['specifiers'] ?? []) as readonly Node[];
  return specifiers.length > 0 && specifiers.every((one) => one[key] === 'type');
}

/** Does a function take a parameter, or an import make a name, that is called `require`? */
function bindsRequire(node: Node): boolean {
  const isNamed = (one: Node | undefined): boolean => one?.['name'] === 'require';
  if (Array.isArray(node['params'])) return (node['params'] as readonly Node[]).some(isNamed);
  return (
    (node.type === 'FunctionDeclaration' && isNamed(node['id'] as Node)) ||
    (node.type.startsWith('Import') && isNamed(node['local'] as Node | undefined))
  );
}

/** What the walk looks at; most nodes of a script are none of these. */
const WANTED: ReadonlySet<string> = new Set([
  'ImportDeclaration',
  'ImportSpecifier',
  'ImportDefaultSpecifier',
  'ImportNamespaceSpecifier',
  'ImportExpression',
  'ExportNamedDeclaration',
  'ExportAllDeclaration',
  'TSExternalModuleReference',
  'TSImportType',
  'TSModuleDeclaration',
  'CallExpression',
  'OptionalCallExpression',
  'VariableDeclaration',
  'FunctionDeclaration',
  'FunctionExpression',
  'ArrowFunctionExpression',
  'ObjectMethod',
  'ClassMethod',
]);

/** The nodes of a file that say something about what it refers to, in no order. */
function wantedNodes(file: Node): readonly Node[] {
  const wanted: Node[] = [];
  const open: Node[] = [file['program'] as Node];
  const visit = (value: unknown): void => {
    if (value !== null && typeof value === 'object' && 'type' in value) open.push(value as Node);
  };
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    if (WANTED.has(node.type)) wanted.push(node);
    for (const key of Object.keys(node)) {
      const value = node[key];
      if (typeof value !== 'object' || value === null || key === 'loc') continue;
      if (Array.isArray(value)) value.forEach(visit);
      else visit(value);
    }
  }
  return wanted;
}
