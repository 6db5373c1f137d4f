import type { RequirementKind } from '../manifest/index.js';
import {
  filesOfShape,
  readForeignManifest,
  sourceAt,
  type ForeignRequirement,
  type SourceNode,
} from '../shape/index.js';
import { lineStarts, positionAt, type Span } from '../text/index.js';
import type { Workspace, WorkspaceFiles } from '../workspace/index.js';

/** What a part of a file's text was read as. */
export interface Mark {
  readonly span: Span;
  /** `word`: it stands for the shared version or a project. `foreign`: it is no range. */
  readonly kind: 'project' | 'package' | 'range' | 'word' | 'foreign';
}

/** One requirement of a file, and what it means. */
export interface SampleLine {
  readonly name: string;
  readonly kind: RequirementKind;
  /** As the file has it. */
  readonly text: string;
  /** A range as we write it, `shared`, or `workspace`; null: it is no range. */
  readonly written: string | null;
  /** For `shared`: the range that is agreed on; null: nothing is. */
  readonly agreed: string | null;
  readonly line: number;
  readonly column: number;
}

/** One file with what is read in it. */
export interface Sample {
  readonly path: string;
  readonly text: string;
  /** Index of the shape that reads it. */
  readonly shape: number;
  /** Of the project that it belongs to; null: it has none, since it cannot be read. */
  readonly project: string | null;
  /** In order; they do not overlap. */
  readonly marks: readonly Mark[];
  readonly lines: readonly SampleLine[];
}

/** Reads one file by the shape that describes it; null: none does, or it is not there. O(length). */
export function readSample(
  files: WorkspaceFiles,
  workspace: Workspace,
  path: string,
): Sample | null {
  const { manifests } = workspace.shapes;
  const index = manifests.findIndex((one) => filesOfShape(one)(path));
  const [shape, text] = [manifests[index], files.get(path)];
  if (shape === undefined || text === undefined) return null;
  const project = workspace.projects.find(({ foreign }) =>
    foreign.some((one) => one.file === path),
  );
  const parsed = shape.syntax.parse(text);
  const { manifest } = readForeignManifest(text, shape);
  const requirements = manifest?.requirements ?? [];
  const starts = lineStarts(text);
  const meant = new Map(
    project?.requirements.map((one) => [`${one.kind} ${one.name}`, one.written]),
  );
  const marks = parsed.ok ? requirements.flatMap((one) => marksOf(parsed.root, one)) : [];
  return {
    path,
    text,
    shape: index,
    project: project?.name ?? null,
    marks: apart([
      ...(manifest?.name == null ? [] : [{ span: manifest.name.span, kind: 'project' } as const]),
      ...marks,
    ]),
    lines: bySpan(requirements).map(({ name, kind, text: said, written: own, span }) => {
      const written = own === null ? null : (meant.get(`${kind} ${name}`) ?? own);
      const agreed = written === 'shared' ? (workspace.agreements.get(name)?.text ?? null) : null;
      return { name, kind, text: said, written, agreed, ...positionAt(starts, span[0]) };
    }),
  };
}

function bySpan<T extends { readonly span: Span }>(all: readonly T[]): readonly T[] {
  return [...all].sort((a, b) => a.span[0] - b.span[0]);
}

function marksOf(root: SourceNode, { place, written }: ForeignRequirement): readonly Mark[] {
  const { container, step, range, names } = place;
  const table = sourceAt(root, container);
  const key =
    names.length === 0 && table?.kind === 'table' ? table.entries.get(String(step)) : undefined;
  const kind =
    written === null
      ? 'foreign'
      : written === 'shared' || written === 'workspace'
        ? 'word'
        : 'range';
  const at = (path: readonly (string | number)[], as: Mark['kind']): readonly Mark[] => {
    const node = sourceAt(root, path);
    return node == null ? [] : [{ span: node.span, kind: as }];
  };
  return [
    ...(key === undefined ? [] : [{ span: key.keySpan, kind: 'package' } as const]),
    ...names.flatMap((path) => at(path, 'package')),
    ...(range === null ? [] : at(range, kind)),
  ];
}

/** Sorted; of those that overlap the first. */
function apart(marks: readonly Mark[]): readonly Mark[] {
  let end = -1;
  return bySpan(marks).filter(({ span }) => {
    if (span[0] < end) return false;
    end = span[1];
    return true;
  });
}
