import type { LevelPreview } from '@deep-ledger/core';
import { count } from '../parts/words';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly name: string;
  /** The version under the mark. */
  readonly mark: string | null;
  /** Null: it is being tried. */
  readonly preview: LevelPreview | null;
  readonly isDeprecated: boolean;
  /** How many projects require the package. */
  readonly projects: number;
  /** The lockstep set that moves with it, or null. */
  readonly set: string | null;
  /** Names of projects by folder. */
  readonly names: ReadonlyMap<string, string>;
  readonly isBusy: boolean;
  /** The draft in hand levels the package at this version already. */
  readonly isPencilled: boolean;
  readonly onPencil: () => void;
}

/** The effect of levelling at the version under the mark, in sentences, and the step itself. */
export function PreviewCost(props: Props) {
  const { name, mark, preview, isDeprecated, projects, set, isBusy, isPencilled, onPencil } = props;
  const isAnswered = preview?.result.kind === 'answered';
  return (
    <section aria-live="polite" className="min-h-[148px] text-sm text-ink-2">
      <h2 className="pb-0.5 text-base font-semibold text-ink">
        {mark === null ? `Levelling ${name}` : `Level at ${mark}`}
        {preview !== null && (
          <code className="ml-1.5 font-mono text-sm font-normal text-ink-2">{preview.range}</code>
        )}
      </h2>
      {preview === null ? (
        <p>Working it out.</p>
      ) : (
        <>
          <p title={namesIn(props.names, preview.allowedBy)}>
            {preview.allowedBy.length} of {projects} already allow it.
          </p>
          {set !== null && <p>The whole set {set} moves with it.</p>}
          {preview.result.kind === 'answered' ? (
            <Answered {...props} preview={preview} result={preview.result} />
          ) : (
            <div className="py-1">
              <p className="font-semibold text-off">The workspace has no answer then.</p>
              <ul className="max-h-[150px] overflow-auto">
                {[...new Set(preview.result.sentences)].map((sentence) => (
                  <li key={sentence}>{sentence}</li>
                ))}
              </ul>
            </div>
          )}
        </>
      )}
      {isDeprecated && <p className="text-caution">This release is deprecated.</p>}
      {isPencilled ? (
        <p className="mt-2">
          <span className="pencilled">In pencil, in the draft in hand.</span>
        </p>
      ) : (
        <EditorButton className="mt-2" disabled={!isAnswered || isBusy} onClick={onPencil}>
          {isBusy ? 'Pencilling' : 'Pencil it in'}
        </EditorButton>
      )}
    </section>
  );
}

type AnsweredResult = Extract<LevelPreview['result'], { kind: 'answered' }>;

function Answered({
  name,
  names,
  preview: { files, takers, majorSteps },
  result: { copies, change, peersBroken },
}: Props & { readonly preview: LevelPreview; readonly result: AnsweredResult }) {
  return (
    <>
      <p title={namesIn(names, takers)}>
        {files === 0
          ? 'No file changes.'
          : `${count(files, 'file')} ${files === 1 ? 'changes' : 'change'}.`}
      </p>
      {majorSteps > 0 && (
        <p>{count(majorSteps, 'project gets', 'projects get')} another major version.</p>
      )}
      <p>
        {name} then has {count(copies, 'copy', 'copies')}.
      </p>
      <p>{changeWords(change)}</p>
      {peersBroken.map(({ copy, name: peer, range, version }) => (
        <p key={`${copy} ${peer}`} className="text-off">
          {copy} asks for {peer} {range} beside it and gets {version ?? 'none'}.
        </p>
      ))}
    </>
  );
}

function namesIn(names: ReadonlyMap<string, string>, folders: readonly string[]): string {
  return folders.map((folder) => names.get(folder) ?? folder).join(', ');
}

function changeWords({ entered, left, moved }: AnsweredResult['change']): string {
  const parts = [
    left.length > 0 ? `${count(left.length, 'copy leaves', 'copies leave')}` : '',
    entered.length > 0 ? `${count(entered.length, 'copy enters', 'copies enter')}` : '',
    moved.length > 0 ? `${count(moved.length, 'copy moves', 'copies move')}` : '',
  ].filter(Boolean);
  return parts.length === 0
    ? 'The lockfile keeps its copies.'
    : `In the lockfile ${parts.join(', ')}.`;
}
