import type { BroughtIn } from '../api/client';
import { Button } from '../parts/Button';
import { Field } from '../parts/Field';
import { count } from '../parts/words';
import { ADOPT, SHARED, type BringInForm, type Opened } from './bring-in-form';

interface Props {
  readonly form: BringInForm;
  readonly opened: Opened;
  readonly read: BroughtIn | undefined;
  readonly onChange: (form: BringInForm) => void;
}

/** Where agreed versions stand, and what says which versions are installed. */
export function OtherFileFields({ form, opened, read, onChange }: Props) {
  const { shared, adopt } = form;
  if (opened === SHARED && shared !== null)
    return (
      <div className="flex flex-col gap-2.5">
        <p>
          What the projects have agreed on: <b>{count(read?.agreed ?? 0, 'version')}</b> are read.
        </p>
        <Field
          label="Where"
          className="font-mono"
          value={shared.form.at}
          onChange={({ target }) =>
            onChange({ ...form, shared: { ...shared, form: { ...shared.form, at: target.value } } })
          }
          hint="A table whose keys are packages and whose values are ranges."
        />
        <Skip
          isSkipped={shared.isSkipped}
          onChange={(isSkipped) => onChange({ ...form, shared: { ...shared, isSkipped } })}
        />
      </div>
    );
  if (opened === ADOPT && adopt !== null) {
    const set = (change: Partial<typeof adopt.form>): void =>
      onChange({ ...form, adopt: { ...adopt, form: { ...adopt.form, ...change } } });
    return (
      <div className="flex flex-col gap-2.5">
        <p>
          What is installed today by other means: <b>{count(read?.adopted ?? 0, 'version')}</b> are
          read. The first lockfile starts from them, and says what it had to change.
        </p>
        <Field
          label="Items"
          className="font-mono"
          value={adopt.form.items}
          onChange={({ target }) => set({ items: target.value })}
        />
        <div className="grid grid-cols-2 gap-2">
          <Field
            label="Name within"
            className="font-mono"
            value={adopt.form.package ?? ''}
            onChange={({ target }) => set({ package: target.value || null })}
          />
          <Field
            label="Version within"
            className="font-mono"
            value={adopt.form.version ?? ''}
            onChange={({ target }) => set({ version: target.value || null })}
          />
        </div>
        <Skip
          isSkipped={adopt.isSkipped}
          onChange={(isSkipped) => onChange({ ...form, adopt: { ...adopt, isSkipped } })}
        />
      </div>
    );
  }
  return null;
}

interface SkipProps {
  readonly isSkipped: boolean;
  readonly onChange: (isSkipped: boolean) => void;
}

function Skip({ isSkipped, onChange }: SkipProps) {
  return (
    <div>
      <Button look="quiet" onClick={() => onChange(!isSkipped)}>
        {isSkipped ? 'Read this file' : 'Skip this file'}
      </Button>
    </div>
  );
}
