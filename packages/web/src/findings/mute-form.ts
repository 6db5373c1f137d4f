import type { EditForm } from '../edit/form';
import { inAYear } from '../edit/edit-forms';
import type { Finding } from '../api/client';

/** Asks why a finding is to be left unsaid, who says so, and how long. */
export function muteForm({ id, says }: Finding): EditForm {
  return {
    title: 'Mute a finding',
    about: `${says}. It is written into ledger.shared.toml, so that the whole team sees it.`,
    fields: [
      { type: 'text', name: 'reason', label: 'Reason' },
      { type: 'text', name: 'owner', label: 'Owner', hint: 'Who answers for it' },
      { type: 'date', name: 'until', label: 'Last day', initial: inAYear() },
    ],
    draftName: () => 'Mute a finding',
    make: (values) => [
      {
        kind: 'mute',
        finding: id,
        reason: values.text('reason'),
        owner: values.text('owner'),
        until: values.text('until'),
      },
    ],
  };
}
