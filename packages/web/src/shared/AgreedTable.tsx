import { Link } from 'react-router';
import type { AgreedPackage } from '../api/client';
import { Off } from '../parts/Off';
import { HeadCell } from '../parts/HeadCell';
import { count } from '../parts/words';
import { EditorStep } from '../session/EditorButton';

interface Props {
  readonly slug: string;
  readonly lines: readonly AgreedPackage[];
  readonly isBusy: boolean;
  readonly onChange?: (line: AgreedPackage) => void;
  readonly onRetire?: (line: AgreedPackage) => void;
}

/** Packages that something is agreed on for, with who takes it. */
export function AgreedTable({ slug, lines, isBusy, onChange, onRetire }: Props) {
  return (
    <table className="w-full table-fixed border-collapse">
      <thead>
        <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
          <HeadCell>Package</HeadCell>
          <HeadCell className="w-[110px]">Agreed</HeadCell>
          <HeadCell className="w-[90px] max-fold:hidden">Newest</HeadCell>
          <HeadCell className="w-[72px] text-right max-fold:hidden">Used by</HeadCell>
          <HeadCell className="w-[72px] text-right">Take it</HeadCell>
          <HeadCell className="w-[64px] text-right">Off</HeadCell>
          <HeadCell className="w-[126px] max-fold:hidden" />
        </tr>
      </thead>
      <tbody>
        {lines.map((line, i) => {
          const { package: name, range, newest, usedBy, takes, off, exceptions, place } = line;
          return (
            <tr
              key={name}
              className={`h-[33px] border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
            >
              <th scope="row" className="truncate px-2 text-left font-semibold">
                <Link
                  className="hover:underline"
                  title={`${place.file}:${place.line}`}
                  to={`/w/${slug}/alignment?scope=direct&q=${encodeURIComponent(name)}&open=${encodeURIComponent(name)}`}
                >
                  {name}
                </Link>
                {exceptions > 0 && (
                  <sup className="ml-0.5 text-ink-2" title={count(exceptions, 'exception')}>
                    †
                  </sup>
                )}
              </th>
              <td className="px-2 font-mono text-[13px]">
                <span className={off === 0 && usedBy > 0 ? 'level' : ''}>{range}</span>
              </td>
              <td className="px-2 font-mono text-[13px] text-ink-2 max-fold:hidden">
                {newest ?? '–'}
              </td>
              <td className="px-2 text-right font-mono text-[13px] max-fold:hidden">
                {usedBy === 0 ? <span className="text-caution">nobody</span> : usedBy}
              </td>
              <td className="px-2 text-right font-mono text-[13px]">{takes}</td>
              <td className="px-2 text-right font-mono text-[13px]">
                <Off count={off} />
              </td>
              <td className="px-2 text-right whitespace-nowrap max-fold:hidden">
                {onChange !== undefined && (
                  <EditorStep
                    label={`Change the shared version of ${name}`}
                    onClick={() => onChange(line)}
                  >
                    change
                  </EditorStep>
                )}{' '}
                {onRetire !== undefined && (
                  <EditorStep
                    label={`Retire the shared version of ${name}`}
                    disabled={isBusy}
                    onClick={() => onRetire(line)}
                  >
                    retire
                  </EditorStep>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
