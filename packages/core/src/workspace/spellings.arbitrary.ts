import { readProjectManifest, type WrittenRequirement } from '../manifest/index.js';
import { PROJECT_FILE, ROOT_FILE, SHAPES_FILE, type WorkspaceFiles } from './workspace.js';

/** How a workspace is written down: what holds for one has to hold for the others. */
export const SPELLINGS: readonly (readonly [
  name: string,
  spell: (files: WorkspaceFiles) => WorkspaceFiles,
])[] = [
  ['our own files', (files) => files],
  ['shapes', inShapes],
];

const KINDS = ['runtime', 'dev', 'peer', 'optional'] as const;
const SHAPES = `format = 1
[[manifest]]
files = ["**/parts.yaml"]
syntax = "yaml"
name = "$.name"
version = "$.version"
ships = { at = "$.ships", library = ["library"] }
${KINDS.map((kind) => `[[manifest.requirements]]\nat = "$.${kind}"\nrange = "$.wanted"\nwhen = "$.only"\nkind = "${kind}"\n`).join('')}[manifest.spelling]
shared = "@agreed"
workspace = "here"
`;

/**
 * The same workspace with manifests in a layout of its own. Manifests that name implicit uses, for which a shape has no
 * word, stay as they are.
 */
function inShapes(files: WorkspaceFiles): WorkspaceFiles {
  const spelt = new Map(files);
  const kept: string[] = [];
  for (const [path, text] of files) {
    if (!path.endsWith(`/${PROJECT_FILE}`)) continue;
    const folder = path.slice(0, -PROJECT_FILE.length - 1);
    const { project, problems } = readProjectManifest(text);
    if (project === null || problems.length > 0 || project.implicit.length > 0) {
      kept.push(folder);
      continue;
    }
    spelt.delete(path);
    const { name, version, ships, requirements } = project;
    const lines = [
      `name: ${quoted(name)}`,
      ...(version === null ? [] : [`version: ${quoted(version)}`]),
      `ships: ${ships}`,
      ...KINDS.flatMap((kind) => block(kind, requirements)),
    ];
    spelt.set(`${folder}/parts.yaml`, `${lines.join('\n')}\n`);
  }
  const root = files.get(ROOT_FILE) ?? '';
  spelt.set(ROOT_FILE, root.replace(/^projects = .*$/m, `projects = ${JSON.stringify(kept)}`));
  return spelt.set(SHAPES_FILE, SHAPES);
}

function block(
  kind: (typeof KINDS)[number],
  requirements: readonly WrittenRequirement[],
): readonly string[] {
  const own = requirements.filter((one) => one.kind === kind);
  if (own.length === 0) return [];
  return [
    `${kind}:`,
    ...own.map(({ name, written, when }) => {
      const word = { shared: '@agreed', workspace: 'here' }[written] ?? written;
      const value =
        when.length === 0
          ? quoted(word)
          : `{ wanted: ${quoted(word)}, only: ${JSON.stringify(when)} }`;
      return `  ${quoted(name)}: ${value}`;
    }),
  ];
}

function quoted(text: string): string {
  return JSON.stringify(text);
}
