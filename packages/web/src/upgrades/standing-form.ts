import type { StandingOrder } from '../api/client';
import type { EditForm, FormValues } from '../edit/form';

const STEPS = [
  { value: 'patch', text: 'patches' },
  { value: 'minor', text: 'patches and minors' },
];
const TARGETS = [
  { value: 'draft', text: 'a draft, for somebody to post' },
  { value: 'branch', text: 'a branch of its own' },
];
const DAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday'];

/** Asks for a standing order; what is given is changed. */
export function standingForm(order: StandingOrder | null): EditForm {
  return {
    title: order === null ? 'Set a standing order' : `Change ${order.name}`,
    about:
      'Upgrades that are prepared again and again. They stand in ledger.toml; a worker prepares them on their day, and nothing is posted without a person.',
    fields: [
      ...(order === null
        ? [{ type: 'text', name: 'name', label: 'Name', isCode: true } as const]
        : []),
      {
        type: 'text',
        name: 'every',
        label: 'Every',
        hint: 'A day of the week (at 4:00 UTC), or a cron line such as 0 4 1 * *',
        initial: order?.every ?? 'monday',
        suggestions: DAYS,
        isCode: true,
        check: 'schedule',
      },
      {
        type: 'choice',
        name: 'take',
        label: 'Takes',
        options: STEPS,
        initial: order?.take ?? 'patch',
      },
      {
        type: 'text',
        name: 'age',
        label: 'Older than, in days',
        initial: String(order?.olderThanDays ?? 7),
        isCode: true,
        check: 'days',
      },
      {
        type: 'text',
        name: 'packages',
        label: 'Packages',
        hint: 'Patterns, parted by commas; none: all that projects require themselves',
        initial: order?.packages.join(', ') ?? '',
        isCode: true,
        isOptional: true,
      },
      {
        type: 'text',
        name: 'except',
        label: 'Except',
        hint: 'Patterns, parted by commas',
        initial: order?.except.join(', ') ?? '',
        isCode: true,
        isOptional: true,
      },
      {
        type: 'choice',
        name: 'to',
        label: 'Into',
        options: TARGETS,
        initial: order?.to ?? 'draft',
      },
    ],
    draftName: (values) => `standing order ${nameOf(order, values)}`,
    make: (values) => [
      {
        kind: 'set-standing',
        name: nameOf(order, values),
        every: values.text('every'),
        take: values.text('take') === 'minor' ? 'minor' : 'patch',
        olderThanDays: Number(values.text('age')),
        packages: listOf(values.text('packages')),
        except: listOf(values.text('except')),
        to: values.text('to') === 'branch' ? 'branch' : 'draft',
      },
    ],
  };
}

function nameOf(order: StandingOrder | null, values: FormValues): string {
  return order?.name ?? values.text('name');
}

function listOf(text: string): string[] {
  return text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);
}
