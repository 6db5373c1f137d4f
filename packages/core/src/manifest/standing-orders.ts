import { Cron } from 'croner';
import type { Span } from '../text/index.js';
import type { ManifestProblem } from './manifest-problem.js';
import type { TreePlan } from './plan.js';
import { addToTables, dropFromTables, tableLine } from './set-table.js';
import type { TableReader } from './table-reader.js';

export const ORDER_TAKES = ['patch', 'minor'] as const;
export type OrderTake = (typeof ORDER_TAKES)[number];

export const ORDER_TARGETS = ['draft', 'branch'] as const;
export type OrderTarget = (typeof ORDER_TARGETS)[number];

const WEEKDAYS = [
  'sunday',
  'monday',
  'tuesday',
  'wednesday',
  'thursday',
  'friday',
  'saturday',
] as const;
/** On a day that is named, a standing order is due at this hour, UTC. */
const HOUR = 4;

/** A standing order as it is written. */
export interface StandingOrderText {
  readonly name: string;
  /** A day of the week, or a cron line of five fields, in UTC. */
  readonly every: string;
  /** How large a step may be. */
  readonly take: OrderTake;
  readonly olderThanDays: number;
  /** Patterns of names that it is about; none: all. */
  readonly packages: readonly string[];
  /** Patterns of names that it leaves out. */
  readonly except: readonly string[];
  readonly to: OrderTarget;
}

/** Upgrades that are prepared again and again. */
export interface StandingOrder extends StandingOrderText {
  readonly span: Span;
}

/** Reads `[[standing]]`; a line that is wrong is left out and reported. */
export function readStandingOrders(
  root: TableReader,
  problems: ManifestProblem[],
): readonly StandingOrder[] {
  const seen = new Set<string>();
  return root.tablesAt('standing').flatMap((table) => {
    const order = readOrder(table);
    if (order === null) return [];
    if (seen.has(order.name)) {
      problems.push({
        code: 'NAMED_TWICE',
        what: 'standing order',
        name: order.name,
        span: order.span,
      });
      return [];
    }
    seen.add(order.name);
    return [order];
  });
}

function readOrder(reader: TableReader): StandingOrder | null {
  reader.allow(['name', 'every', 'take', 'older-than-days', 'packages', 'except', 'to']);
  const name = reader.requiredString('name', '`name = "weekly-patches"`');
  const every = reader.requiredString('every', '`every = "monday"`');
  const known =
    name === null ? null : reader.name('standing order', name.value as string, name.span);
  const wrong = every === null ? null : scheduleProblem(every.value as string);
  if (wrong !== null)
    reader.problems.push({
      code: 'QUERY_INVALID',
      key: 'every',
      message: wrong,
      span: every!.span,
    });
  if (known === null || every === null || wrong !== null) return null;
  return {
    name: known,
    every: every.value as string,
    take: reader.choice('take', ORDER_TAKES, 'patch'),
    olderThanDays: reader.wholeNumber('older-than-days', 0),
    packages: reader.strings('packages').map(({ text }) => text),
    except: reader.strings('except').map(({ text }) => text),
    to: reader.choice('to', ORDER_TARGETS, 'draft'),
    span: reader.table.span,
  };
}

/** What is wrong with when a standing order is due, as a sentence; null: nothing. */
export function scheduleProblem(every: string): string | null {
  const line = cronLine(every);
  const shape =
    'Write a day of the week such as "monday", or a cron line of five fields such as "0 4 1 * *".';
  if (line.trim().split(/\s+/).length !== 5) return shape;
  try {
    return cronOf(line).nextRun() === null ? 'It never comes.' : null;
  } catch (error) {
    return `${error instanceof Error ? error.message.replace(/^CronPattern: /, '') : String(error)}. ${shape}`;
  }
}

/**
 * The first time after another at which a standing order is due.
 * @param every without a problem
 */
export function nextDue(every: string, after: Date): Date | null {
  return cronOf(cronLine(every)).nextRun(after);
}

function cronLine(every: string): string {
  const day = WEEKDAYS.findIndex((one) => one === every.trim().toLowerCase());
  return day < 0 ? every : `0 ${HOUR} * * ${day}`;
}

/** In UTC by its distance: by its name, the rules of all time zones would be looked up, which takes longer than reading a workspace. */
function cronOf(line: string): Cron {
  return new Cron(line, { utcOffset: 0, paused: true });
}

/** Writes a standing order; the one of the same name goes. */
export function setStandingOrder(order: StandingOrderText): readonly TreePlan[] {
  const { name, every, take, olderThanDays, packages, except, to } = order;
  return [
    dropStandingOrder(name),
    addToTables(
      ['standing'],
      [
        tableLine('name', name),
        tableLine('every', every),
        tableLine('take', take),
        ...(olderThanDays === 0 ? [] : [tableLine('older-than-days', olderThanDays)]),
        ...(packages.length === 0 ? [] : [tableLine('packages', packages)]),
        ...(except.length === 0 ? [] : [tableLine('except', except)]),
        ...(to === 'draft' ? [] : [tableLine('to', to)]),
      ],
      [['standing'], ['policy']],
    ),
  ];
}

export function dropStandingOrder(name: string): TreePlan {
  return dropFromTables(['standing'], (texts) => texts.get('name') === name);
}
