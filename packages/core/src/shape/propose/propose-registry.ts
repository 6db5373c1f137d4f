import { isIntegrity } from '../../registry/index.js';
import { isNameInAnyForm } from '../../text/index.js';
import { parseVersion } from '../../version/index.js';
import type { RegistryForm } from '../shapes-form.js';
import { sourceOfJson, type SourceNode, type SourcePath } from '../syntax/index.js';
import { likeness, queryOf } from './candidates.js';

/** How deep a document is looked into. */
const MOST_DEPTH = 4;
const HEX_SUM = /^(?:[0-9a-f]{64}|[0-9a-f]{96}|[0-9a-f]{128})$/i;
const DAY = /^\d{4}-\d{2}-\d{2}(?:T|$)/;

/** A text in a document, with the way to it. */
interface Text {
  readonly path: SourcePath;
  readonly text: string;
}

interface Release {
  readonly version: string;
  readonly node: SourceNode;
}

/**
 * How a registry seems to speak, by one of its documents; null: nothing in it reads as releases. A part that is not
 * found is empty. A pure function. O(size).
 */
export function proposeRegistry(
  registry: string,
  document: unknown,
  path: string,
): RegistryForm | null {
  const root = sourceOfJson(document);
  const place = nodesIn(root, [])
    .flatMap(({ node, path: at }) => releasesAt(node, at) ?? [])
    .sort((a, b) => b.releases.length - a.releases.length)[0];
  if (place === undefined) return null;
  const { at, version, releases } = place;
  const texts = releases.flatMap(({ node }) => textsIn(node, []));
  const integrity = texts.find(({ text }) => isIntegrity(text) || HEX_SUM.test(text));
  const beside = (one: Text): boolean =>
    one.path.length === integrity?.path.length &&
    one.path.slice(0, -1).join() === integrity.path.slice(0, -1).join();
  const addresses = texts.filter(({ text }) => /\//.test(text) && !/\s/.test(text));
  const url = addresses.find(beside) ?? addresses[0];
  const named = (pattern: RegExp): string =>
    queryTo(texts.find((one) => pattern.test(String(one.path.at(-1))))?.path);
  return {
    registry,
    document: path,
    releases: at,
    version,
    published: dayIn(texts, root, releases),
    licence: named(/licen[cs]e/i),
    needs: needsIn(releases),
    optional: '',
    deprecated: named(/deprecat|withdrawn|retired/i),
    url: queryTo(url?.path),
    integrity: queryTo(integrity?.path),
  };
}

function queryTo(path: SourcePath | undefined): string {
  return path === undefined ? '' : queryOf(path);
}

interface Place {
  readonly at: string;
  readonly version: string;
  readonly releases: readonly Release[];
}

/** The releases in a list or a table, with the query that leads to them and that to their version. */
function releasesAt(node: SourceNode, path: SourcePath): Place | null {
  if (node.kind === 'scalar') return null;
  const items =
    node.kind === 'list'
      ? node.items.map((item) => ({ key: '', item }))
      : [...node.entries.values()].map(({ key, value }) => ({ key, item: value }));
  if (items.length === 0 || items.some(({ item }) => item.kind !== 'table')) return null;
  const at = `${queryOf(path)}[*]`;
  if (items.every(({ key }) => parseVersion(key).ok))
    return {
      at,
      version: '',
      releases: items.map(({ key, item }) => ({ version: key, node: item })),
    };
  const [first] = items;
  const member = membersOf(first!.item).find(({ path: [key] }) =>
    items.every(({ item }) => {
      const said = membersOf(item).find((one) => one.path[0] === key);
      return said !== undefined && parseVersion(said.text).ok;
    }),
  );
  if (member === undefined) return null;
  const key = member.path[0];
  return {
    at,
    version: queryOf(member.path),
    releases: items.map(({ item }) => ({
      version: membersOf(item).find((one) => one.path[0] === key)!.text,
      node: item,
    })),
  };
}

/** A day that each release says, or else the table of the document that has one for each version. */
function dayIn(texts: readonly Text[], root: SourceNode, releases: readonly Release[]): string {
  const own = texts.find(({ text }) => DAY.test(text));
  if (own !== undefined) return queryOf(own.path);
  const versions = releases.map(({ version }) => version);
  const table = nodesIn(root, []).find(({ node }) => {
    const days = new Map(membersOf(node).map(({ path: [key], text }) => [key, text]));
    return versions.every((version) => DAY.test(days.get(version) ?? ''));
  });
  return table === undefined ? '' : `$${queryOf(table.path)}[{version}]`;
}

function needsIn(releases: readonly Release[]): string {
  for (const { node } of releases)
    for (const { node: inner, path } of nodesIn(node, [])) {
      if (path.length === 0 || inner.kind !== 'table' || inner.entries.size === 0) continue;
      const texts = membersOf(inner);
      const isAll = texts.length === inner.entries.size;
      const isGood = texts.every(
        ({ path: [key], text }) => isNameInAnyForm(String(key)) && likeness(text) !== null,
      );
      if (isAll && isGood) return queryOf(path);
    }
  return '';
}

/** Tables and lists, the outer before the inner. */
function nodesIn(
  node: SourceNode,
  path: SourcePath,
): readonly { readonly node: SourceNode; readonly path: SourcePath }[] {
  if (node.kind === 'scalar' || path.length > MOST_DEPTH) return [];
  const inner =
    node.kind === 'list'
      ? node.items.slice(0, 1).flatMap((item, i) => nodesIn(item, [...path, i]))
      : [...node.entries.values()].flatMap(({ key, value }) => nodesIn(value, [...path, key]));
  return [{ node, path }, ...inner];
}

function textsIn(node: SourceNode, path: SourcePath): readonly Text[] {
  if (node.kind === 'scalar')
    return typeof node.value === 'string' ? [{ path, text: node.text }] : [];
  if (node.kind === 'list' || path.length >= MOST_DEPTH) return [];
  return [...node.entries.values()].flatMap(({ key, value }) => textsIn(value, [...path, key]));
}

/** The texts that a table has itself. */
function membersOf(node: SourceNode): readonly Text[] {
  return node.kind === 'table' ? textsIn(node, []).filter(({ path }) => path.length === 1) : [];
}
