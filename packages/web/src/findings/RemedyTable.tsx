import { useOutletContext } from 'react-router';
import type { RankedRemedy } from '../api/client';
import { usePencil } from '../draft/usePencil';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { HeadCell } from '../parts/HeadCell';
import { sentence } from './FindingLine';
import { EditorButton } from '../session/EditorButton';

/** Remedies by what they clear for what they touch. */
export function RemedyTable({ remedies }: { readonly remedies: readonly RankedRemedy[] }) {
  const frame = useOutletContext<FrameContext>();
  const pencil = usePencil(frame);
  return (
    <>
      <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <HeadCell>What would clear most</HeadCell>
            <HeadCell className="w-[64px] text-right max-fold:w-[52px]">Clears</HeadCell>
            <HeadCell
              className="w-[64px] text-right max-fold:w-[54px]"
              title="Findings that come with it"
            >
              Brings
            </HeadCell>
            <HeadCell
              className="w-[72px] text-right max-fold:hidden"
              title="Hand-written files that change"
            >
              Touches
            </HeadCell>
            <HeadCell className="w-[90px] max-fold:w-[72px]" />
          </tr>
        </thead>
        <tbody>
          {remedies.map((remedy, i) => (
            <tr
              key={JSON.stringify(remedy.edits)}
              className={`border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
            >
              <td className="truncate px-2 py-1.5 max-fold:whitespace-normal" title={remedy.says}>
                {sentence(remedy.says)}
              </td>
              <td className="px-2 text-right font-mono text-sm">{remedy.clears.length}</td>
              <td className="px-2 text-right font-mono text-sm">
                {remedy.raises.length === 0 ? '–' : remedy.raises.length}
              </td>
              <td className="px-2 text-right font-mono text-sm max-fold:hidden">
                {remedy.touches === 0 ? '–' : remedy.touches}
              </td>
              <td className="px-2 text-right">
                <EditorButton
                  look="text"
                  aria-label={`Pencil in: ${remedy.says}`}
                  disabled={pencil.isPending}
                  onClick={() =>
                    pencil.mutate({
                      kind: 'edits',
                      edits: remedy.edits,
                      draftName: sentence(remedy.says),
                    })
                  }
                >
                  Pencil in
                </EditorButton>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
    </>
  );
}
