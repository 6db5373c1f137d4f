import { nodeAt, planAddEntry, printString } from './edit-toml.js';
import type { TreePlan } from './plan.js';
import type { RequirementKind } from './project-manifest.js';
import {
  addTable,
  addToTables,
  dropFromTables,
  dropTable,
  tableLine,
  unlessInTables,
} from './set-table.js';
import { dropKey, printValue, setValue } from './set-value.js';
import type { TomlTable } from './toml-document.js';

/** An exception as it is written. */
export interface ExceptionText {
  readonly project: string;
  readonly package: string;
  readonly range: string;
  readonly reason: string;
  readonly owner: string;
  /** YYYY-MM-DD */
  readonly until: string;
}

/** What releases of a package ask for, answered otherwise, as it is written. */
export interface OtherwiseText {
  /** The package whose releases ask. */
  readonly of: string;
  readonly package: string;
  readonly range: string;
  readonly reason: string;
  readonly owner: string;
  /** YYYY-MM-DD */
  readonly until: string;
}

/** A finding that is left unsaid, as it is written. */
export interface MutedText {
  /** Its name, as findings are named. */
  readonly finding: string;
  readonly reason: string;
  readonly owner: string;
  /** YYYY-MM-DD */
  readonly until: string;
}

/** Terms that somebody accepted, as it is written. */
export interface AcceptedText {
  readonly id: string;
  readonly title: string;
  readonly url: string;
  readonly by: string;
  /** YYYY-MM-DD */
  readonly on: string;
}

/** Takes a package's line out of [shared]. */
export function dropShared(name: string): TreePlan {
  return dropKey(['shared', name]);
}

export function setShared(name: string, range: string): TreePlan {
  return setValue(['shared', name], range);
}

/** Makes a lockstep set carry these packages at one range; a new one stands beside the other sets. */
export function setLockstep(
  set: string,
  range: string,
  packages: readonly string[],
): readonly TreePlan[] {
  const path = ['lockstep', set];
  const ifNew: TreePlan = (text, root) =>
    nodeAt(root, path) === null
      ? addTable(
          path,
          [tableLine('range', range), tableLine('packages', packages)],
          [['shared'], ['lockstep']],
        )(text, root)
      : [];
  return [ifNew, setValue([...path, 'range'], range), setValue([...path, 'packages'], packages)];
}

export function dropLockstep(set: string): TreePlan {
  return dropTable(['lockstep', set]);
}

/** Makes every project require a package, but those that are excepted. */
export function setEverywhere(
  name: string,
  range: string,
  kind: RequirementKind,
  except: readonly string[],
): readonly TreePlan[] {
  const path = ['everywhere', name];
  const lines = [
    tableLine('range', range),
    ...(kind === 'runtime' ? [] : [tableLine('kind', kind)]),
    ...(except.length === 0 ? [] : [tableLine('except', except)]),
  ];
  const ifNew: TreePlan = (text, root) => {
    if (nodeAt(root, path) !== null) return [];
    const value = `{ ${lines.map(([key, text]) => `${key} = ${text}`).join(', ')} }`;
    return nodeAt(root, ['everywhere']) === null
      ? addTable(['everywhere'], [[name, value]], [['shared'], ['lockstep']])(text, root)
      : [planAddEntry(text, root, ['everywhere'], name, value)];
  };
  const sets = (key: string, isWanted: boolean, value: string | readonly string[]): TreePlan => {
    return (text, root) =>
      isWanted || nodeAt(root, [...path, key]) !== null
        ? setValue([...path, key], value)(text, root)
        : [];
  };
  return [
    ifNew,
    setValue([...path, 'range'], range),
    sets('kind', kind !== 'runtime', kind),
    sets('except', except.length > 0, except),
  ];
}

export function dropEverywhere(name: string): TreePlan {
  return dropTable(['everywhere', name]);
}

/** Pins a package; the projects that are left out keep what they ask for themselves. */
export function setPin(
  name: string,
  version: string,
  except: readonly string[],
): readonly TreePlan[] {
  const path = ['pins', name];
  const isTable = (root: TomlTable): boolean => nodeAt(root, path)?.kind === 'table';
  const whole: TreePlan = (text, root) =>
    isTable(root) ? [] : setValue(path, version)(text, root);
  const table: TreePlan = (text, root) => {
    const node = nodeAt(root, path);
    const value = `{ version = ${printString(version)}, except = ${printValue(except)} }`;
    if (node === null) return [planAddEntry(text, root, ['pins'], name, value)];
    if (node.kind === 'table') return [];
    return [{ offset: node.span[0], length: node.span[1] - node.span[0], text: value }];
  };
  const inTable = (key: string, value: string | readonly string[]): TreePlan => {
    return (text, root) => (isTable(root) ? setValue([...path, key], value)(text, root) : []);
  };
  return [
    except.length === 0 ? whole : table,
    inTable('version', version),
    inTable('except', except),
  ];
}

export function dropPin(name: string): TreePlan {
  return dropKey(['pins', name]);
}

/** Writes a new exception; the one that there was for the same project and package goes. */
export function setException(exception: ExceptionText): readonly TreePlan[] {
  const { project, package: name, range, reason, owner, until } = exception;
  const texts = { project, package: name, range, reason, owner };
  const lines = Object.entries(texts).map(([key, value]) => tableLine(key, value));
  return unlessInTables(['exceptions'], { ...texts, until }, [
    dropException(project, name),
    addToTables(['exceptions'], [...lines, ['until', until]], [['exceptions']]),
  ]);
}

export function dropException(project: string, name: string): TreePlan {
  return dropFromTables(
    ['exceptions'],
    (texts) => texts.get('project') === project && texts.get('package') === name,
  );
}

/** Writes that what a package's releases ask for is answered otherwise; an older line for the same goes. */
export function setOtherwise(line: OtherwiseText): readonly TreePlan[] {
  const { of, package: name, range, reason, owner, until } = line;
  const texts = { of, package: name, range, reason, owner };
  const lines = Object.entries(texts).map(([key, value]) => tableLine(key, value));
  return unlessInTables(['otherwise'], { ...texts, until }, [
    dropOtherwise(of, name),
    addToTables(['otherwise'], [...lines, ['until', until]], [['otherwise'], ['exceptions']]),
  ]);
}

export function dropOtherwise(of: string, name: string): TreePlan {
  return dropFromTables(
    ['otherwise'],
    (texts) => texts.get('of') === of && texts.get('package') === name,
  );
}

/** Writes that a finding is muted; an older line for it goes. */
export function setMuted({ finding, reason, owner, until }: MutedText): readonly TreePlan[] {
  const texts = { finding, reason, owner };
  const lines = Object.entries(texts).map(([key, value]) => tableLine(key, value));
  return unlessInTables(['muted'], { ...texts, until }, [
    dropMuted(finding),
    addToTables(['muted'], [...lines, ['until', until]], [['muted'], ['exceptions']]),
  ]);
}

export function dropMuted(finding: string): TreePlan {
  return dropFromTables(['muted'], (texts) => texts.get('finding') === finding);
}

/** Writes that terms are accepted; an older line for terms of the same id goes. */
export function setAccepted({ id, title, url, by, on }: AcceptedText): readonly TreePlan[] {
  const texts = { id, title, url, by };
  const lines = Object.entries(texts).map(([key, value]) => tableLine(key, value));
  return unlessInTables(['accepted'], { ...texts, on }, [
    dropAccepted(id),
    addToTables(['accepted'], [...lines, ['on', on]], [['accepted'], ['muted'], ['exceptions']]),
  ]);
}

export function dropAccepted(id: string): TreePlan {
  return dropFromTables(['accepted'], (texts) => texts.get('id') === id);
}
