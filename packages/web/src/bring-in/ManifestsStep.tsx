import { useState } from 'react';
import type { BringIn, BroughtIn } from '../api/client';
import { useChangeAddress } from '../frame/useChangeAddress';
import { Button } from '../parts/Button';
import { ProblemList } from '../parts/ProblemList';
import { Section } from '../parts/Section';
import { TypedChoice } from '../parts/TypedChoice';
import { count } from '../parts/words';
import {
  figuresOfKinds,
  firstFile,
  kindOfFile,
  type BringInForm,
  type Kind,
  type Opened,
} from './bring-in-form';
import { KindFields } from './KindFields';
import { KindFigures } from './KindFigures';
import { KindList } from './KindList';
import { OtherFileFields } from './OtherFileFields';
import { SampleText } from './SampleText';
import { SampleLines } from './SampleLines';

interface Props {
  readonly proposal: BringIn;
  readonly form: BringInForm;
  readonly read: BroughtIn | undefined;
  readonly opened: Opened;
  /** Path of the file that is shown; null: there is none. */
  readonly file: string | null;
  readonly onChange: (form: BringInForm) => void;
  readonly onNext: () => void;
}

/** The kinds of manifests, the text of one file with what is read in it, and what that gives. */
export function ManifestsStep({ proposal, form, read, opened, file, onChange, onNext }: Props) {
  const changeAddress = useChangeAddress();
  const [isChanging, setChanging] = useState(false);
  const figures = figuresOfKinds(form, read);
  const index = form.kinds.findIndex(({ key }) => key === opened);
  const [kind, own] = [form.kinds[index], figures[index] ?? null];
  const open = (next: Opened): void => {
    const at = form.kinds.findIndex(({ key }) => key === next);
    changeAddress({ kind: next, file: figures[at]?.paths[0] ?? firstFile(form, next) });
  };
  const changeKind = (next: Kind): void =>
    onChange({ ...form, kinds: form.kinds.map((one) => (one.key === next.key ? next : one)) });
  const add = (path: string): void => {
    const key = `own ${form.kinds.length}`;
    onChange({ ...form, kinds: [...form.kinds, kindOfFile(path, key)] });
    changeAddress({ kind: key, file: path });
    setChanging(true);
  };
  const shown = read?.sample?.path === file ? read.sample : null;
  const paths = own?.paths ?? [];
  const isElsewhere = file === null || (paths.length > 0 && !paths.includes(file));
  return (
    <div className="grid grid-cols-1 gap-3.5 fold:grid-cols-[minmax(190px,262px)_minmax(0,1fr)_300px]">
      <div className="flex min-w-0 flex-col gap-3">
        <KindList form={form} figures={figures} opened={opened} onOpen={open} />
        <p className="text-sm text-ink-2">
          {unreadWords(proposal)}{' '}
          {proposal.tooLarge > 0 &&
            `${count(proposal.tooLarge, 'file')} larger than 2 MB ${proposal.tooLarge === 1 ? 'was' : 'were'} not looked at. `}
          {proposal.isCut && 'There are more files than could be looked at. '}
        </p>
        <TypedChoice
          label="Describe another file"
          value=""
          options={proposal.unread.map((path) => ({ value: path, text: path }))}
          onChange={add}
          isInLine={false}
        />
      </div>
      <SampleText
        paths={paths}
        sample={shown}
        path={file}
        other={isElsewhere ? (paths[0] ?? null) : null}
        onOpen={(path) => changeAddress({ file: path })}
      />
      <div className="flex min-w-0 flex-col gap-3.5">
        {kind !== undefined && <SampleLines sample={shown} />}
        {kind !== undefined && <KindFigures kind={kind} figures={own} />}
        {kind === undefined && (
          <OtherFileFields form={form} opened={opened} read={read} onChange={onChange} />
        )}
        {read !== undefined && read.problems.length > 0 && (
          <Section title={count(read.problemCount, 'problem')} empty={null}>
            <div className="max-h-[220px] overflow-auto p-2 text-sm">
              <ProblemList problems={read.problems.slice(0, 20)} isAtHead={false} />
            </div>
          </Section>
        )}
        <div className="flex flex-wrap gap-2">
          <Button onClick={onNext}>Registries</Button>
          {kind !== undefined && (
            <>
              <Button
                look="quiet"
                onClick={() => setChanging(!isChanging)}
                aria-expanded={isChanging}
              >
                {isChanging ? 'Fold away' : 'Change how it is read'}
              </Button>
              <Button
                look="quiet"
                onClick={() => changeKind({ ...kind, isSkipped: !kind.isSkipped })}
              >
                {kind.isSkipped ? 'Read this kind' : 'Skip this kind'}
              </Button>
            </>
          )}
        </div>
        {kind !== undefined && isChanging && (
          <KindFields form={kind.form} onChange={(next) => changeKind({ ...kind, form: next })} />
        )}
      </div>
    </div>
  );
}

function unreadWords({ unreadCount }: BringIn): string {
  return unreadCount === 0
    ? 'Every file with a structure was recognised.'
    : `Not recognised: ${count(unreadCount, 'file')} with a structure but no table of names and ranges.`;
}
