import type { Edit } from '../edit/index.js';
import type { Workspace } from '../workspace/index.js';

/**
 * The order in which edits are made, as indexes. Edits of different packages mean the same in any order, and in this one
 * they also lead to the same bytes: where a line goes hangs on the lines that are there. Packages that get a requirement
 * come first, so that no table empties and goes before another line is put into it. Edits that have a package or a
 * lockstep set in common stay as they are given, and nothing passes an edit that is about more than packages.
 * Cost: one look at each name that an edit is about, where edits have few packages in common.
 */
export function orderOfEdits(workspace: Workspace, edits: readonly Edit[]): readonly number[] {
  const order: number[] = [];
  let run = new Groups();
  edits.forEach((edit, index) => {
    const names = namesOf(workspace, edit);
    if (names !== null) return run.add(names, index, edit.kind === 'add-requirement');
    order.push(...run.inOrder(), index);
    run = new Groups();
  });
  return [...order, ...run.inOrder()];
}

/** Edits that have packages or sets in common. */
interface Group {
  readonly names: readonly string[];
  readonly members: readonly number[];
  readonly adds: boolean;
}

class Groups {
  private readonly byName = new Map<string, Group>();

  add(names: readonly string[], index: number, adds: boolean): void {
    const met = [...new Set(names.flatMap((name) => this.byName.get(name) ?? []))];
    const group: Group = {
      names: [...new Set([...met.flatMap((one) => one.names), ...names])].sort(),
      members: [...met.flatMap(({ members }) => members), index].sort((a, b) => a - b),
      adds: adds || met.some((one) => one.adds),
    };
    for (const name of group.names) this.byName.set(name, group);
  }

  inOrder(): readonly number[] {
    return [...new Set(this.byName.values())]
      .sort((a, b) => Number(b.adds) - Number(a.adds) || (a.names[0]! < b.names[0]! ? -1 : 1))
      .flatMap(({ members }) => members);
  }
}

/** Packages that an edit is about, with the members of their lockstep sets; null: it is about more than that. */
function namesOf(workspace: Workspace, edit: Edit): readonly string[] | null {
  const names = packagesOf(edit);
  if (names === null) return null;
  const sets = new Set(names.map((name) => workspace.agreements.get(name)?.set));
  const members = workspace.shared.lockstep.flatMap(({ name, packages }) =>
    sets.has(name) ? packages : [],
  );
  return [...names, ...members];
}

function packagesOf(edit: Edit): readonly string[] | null {
  switch (edit.kind) {
    case 'upgrade':
      return edit.moves.map((move) => move.package);
    case 'set-shared':
    case 'take-shared':
    case 'set-range':
    case 'add-requirement':
    case 'remove-requirement':
    case 'change-kind':
      return [edit.package];
    default:
      return null;
  }
}
