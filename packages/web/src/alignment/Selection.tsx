import { useState } from 'react';
import { useOutletContext } from 'react-router';
import type { AlignmentRow } from '../api/client';
import { usePencil } from '../draft/usePencil';
import { EditDialog } from '../edit/EditDialog';
import { setForm } from '../edit/edit-forms';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly rows: readonly AlignmentRow[];
  readonly selected: ReadonlySet<string>;
  readonly onClear: () => void;
}

/** What can be done with all selected rows at once. */
export function Selection({ rows, selected, onClear }: Props) {
  const pencil = usePencil(useOutletContext<FrameContext>());
  const [isMakingSet, setMakingSet] = useState(false);
  const chosen = rows.filter(({ name }) => selected.has(name));
  const off = chosen.filter((row) => row.off > 0);
  const names = chosen.map(({ name }) => name);
  const range = chosen.find(({ agreed }) => agreed !== null)?.agreed;
  const level = (): void =>
    pencil.mutate(
      {
        kind: 'level-many',
        packages: off.map(({ name }) => name),
        to: 'in-use',
        draftName: `level ${count(off.length, 'package')}`,
      },
      { onSuccess: onClear },
    );
  const moveUp = (): void =>
    pencil.mutate(
      {
        kind: 'level-many',
        packages: names,
        to: 'newest',
        draftName: `move ${count(names.length, 'package')} up`,
      },
      { onSuccess: onClear },
    );
  return (
    <div
      role="region"
      aria-label="Selected packages"
      className="sticky top-0 z-[5] mb-2 flex flex-wrap items-center gap-3 border-y border-rule-strong bg-agreed-wash px-2 py-1.5"
    >
      <span>
        <b className="font-semibold">{count(chosen.length, 'package')}</b> selected, {off.length}{' '}
        out of line
      </span>
      <EditorButton
        disabled={off.length === 0 || pencil.isPending}
        onClick={level}
        title="At what is agreed; where nothing is, at the newest version in use"
      >
        {pencil.isPending ? 'Pencilling' : 'Level them'}
      </EditorButton>
      <EditorButton
        look="quiet"
        disabled={chosen.length === 0 || pencil.isPending}
        onClick={moveUp}
        title="To the newest release for which no project takes a major step; rows in line move too"
      >
        Move them up
      </EditorButton>
      <EditorButton look="quiet" disabled={chosen.length < 2} onClick={() => setMakingSet(true)}>
        Make a lockstep set…
      </EditorButton>
      <Button look="text" onClick={onClear}>
        Select none
      </Button>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      {isMakingSet && (
        <EditDialog
          form={setForm(
            {
              name: '',
              range: range ?? chosen[0]?.marks.at(-1)?.version ?? '',
              packages: names,
            },
            rows.map(({ name }) => name),
          )}
          onClose={() => setMakingSet(false)}
        />
      )}
    </div>
  );
}
