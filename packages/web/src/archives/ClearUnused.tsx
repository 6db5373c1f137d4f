import { useState, type FormEvent } from 'react';
import type { Archives } from '../api/client';
import { Button } from '../parts/Button';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { bytes, count } from '../parts/words';
import { useMayNot } from '../session/useSession';
import { useClearArchives } from './useArchives';

interface Props {
  readonly slug: string;
  readonly archives: Archives;
}

const DAYS = 30;

/** Throws away what no lockfile names, after a question. */
export function ClearUnused({ slug, archives: { unused, unusedBytes } }: Props) {
  const [isOpen, setOpen] = useState(false);
  const [days, setDays] = useState(String(DAYS));
  const isRefused = useMayNot('keeper');
  const clear = useClearArchives(slug);
  const close = (): void => {
    setOpen(false);
    clear.reset();
  };
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    clear.mutate(Number(days));
  };
  return (
    <>
      <Button
        look="quiet"
        disabled={isRefused || unused === 0}
        title={isRefused ? 'A keeper throws archives away; ask one of them.' : undefined}
        onClick={() => setOpen(true)}
      >
        Clean up…
      </Button>
      <Dialog
        open={isOpen}
        onClose={close}
        title="Throw away unused archives"
        about={`${count(unused, 'archive')}, ${bytes(unusedBytes)}, ${unused === 1 ? 'is' : 'are'} named by no lockfile of any workspace. Lockfiles of old commits may name them still; they would be fetched from the registry again.`}
      >
        {clear.data === undefined ? (
          <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
            <Field
              label="Unused for at least so many days"
              type="number"
              min={0}
              required
              value={days}
              onChange={({ target }) => setDays(target.value)}
            />
            <Button type="submit" disabled={clear.isPending}>
              Throw them away
            </Button>
            <Button look="quiet" onClick={close}>
              Keep them
            </Button>
            {clear.isError && (
              <div className="basis-full">
                <ErrorNotice error={clear.error} />
              </div>
            )}
          </form>
        ) : (
          <div className="flex items-center gap-3" role="status">
            <span>
              {clear.data.archives === 0
                ? 'None was unused for so long; nothing was thrown away.'
                : `${count(clear.data.archives, 'archive')} thrown away, ${bytes(clear.data.bytes)}.`}
            </span>
            <Button look="quiet" onClick={close}>
              Close
            </Button>
          </div>
        )}
      </Dialog>
    </>
  );
}
