import { useState } from 'react';
import { useLocation } from 'react-router';
import { Dialog } from '../parts/Dialog';
import { isTyping } from './is-typing';
import { lineOfPage } from './page-lines';
import { useWindowKey } from './useWindowKey';

const KEYS = [
  ['Ctrl K', 'go to a package, a project, a page or an action'],
  ['/', 'find a package'],
  ['↑ ↓', 'walk the rows'],
  ['Enter', 'open the row; in the package panel, pencil the version in'],
  ['Space', 'select the row'],
  ['← →', 'in the package panel, older and newer version; with Shift, every release'],
  ['← ↑ ↓ →', 'in the grid, walk the cells; Enter says why'],
  ['← ↑ ↓ →', 'on a trace, from box to box; with Shift, move the drawing'],
  ['+ − 0', 'on a trace, closer, further and all of it'],
  ['P', 'on a trace or among upgrades, put what was tried or chosen into the draft'],
  ['Ctrl Z', 'undo in the draft in hand; with Shift, do it again'],
  ['Esc', 'step back'],
  ['?', 'what can be done on this page, and this list of keys'],
] as const;

export function KeyList() {
  const [isOpen, setOpen] = useState(false);
  const line = lineOfPage(useLocation().pathname);
  useWindowKey((event) => {
    if (event.key === '?' && !isTyping(event.target)) setOpen(true);
  });
  return (
    <Dialog
      open={isOpen}
      onClose={() => setOpen(false)}
      title="This page, and its keys"
      about={line ?? 'Everything can be reached without a pointer.'}
    >
      <dl className="grid grid-cols-[90px_1fr] gap-y-1.5">
        {KEYS.map(([key, text]) => (
          <div key={text} className="contents">
            <dt className="font-mono font-semibold">{key}</dt>
            <dd>{text}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
