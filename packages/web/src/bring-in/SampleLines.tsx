import type { BroughtIn } from '../api/client';
import { Section } from '../parts/Section';

type Sample = NonNullable<BroughtIn['sample']>;
type Line = Sample['lines'][number];

/** What the text of one file says in the words of our model. */
export function SampleLines({ sample }: { readonly sample: Sample | null }) {
  const empty =
    sample === null
      ? 'Nothing is read in it.'
      : sample.lines.length === 0
        ? 'No requirement is read in this file.'
        : null;
  return (
    <Section title="What that says" empty={empty}>
      <div className="max-h-[300px] overflow-auto">
        <table className="w-full border-collapse text-sm">
          <tbody>
            {sample?.project != null && (
              <tr className="h-[31px] border-b border-rule">
                <td className="px-2 font-semibold [overflow-wrap:anywhere]">{sample.project}</td>
                <td className="px-2 font-mono" colSpan={2}>
                  project
                </td>
              </tr>
            )}
            {sample?.lines.map((line) => (
              <tr
                key={`${line.kind} ${line.name} ${line.line}`}
                className="h-[31px] border-b border-rule even:bg-bar"
              >
                <td className="py-1 pr-1 pl-2 font-semibold [overflow-wrap:anywhere]">
                  {line.name}
                </td>
                <td
                  className={`px-1 font-mono whitespace-nowrap ${line.written === null ? 'text-off' : ''}`}
                  title={line.text}
                >
                  {meaning(line)}
                </td>
                <td className="pr-2 text-right text-ink-2">{line.kind}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Section>
  );
}

function meaning({ written, agreed }: Line): string {
  if (written === null) return 'not a range';
  if (written === 'workspace') return 'a project';
  if (written === 'shared') return agreed === null ? 'agreed, but nothing is' : `agreed ${agreed}`;
  return written;
}
