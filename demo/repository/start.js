'use strict';

// What the start scripts of all projects do: load what their project requires to run, and print what they got.
const { readFileSync } = require('node:fs');
const { createRequire } = require('node:module');
const { join } = require('node:path');

/** The name of a project, its version and the names of what it requires to run, out of its manifest. */
function manifest(folder) {
  const text = readFileSync(join(folder, 'ledger.project.toml'), 'utf8');
  const value = (key) => new RegExp(`^${key} = "(.*?)"`, 'm').exec(text)?.[1] ?? null;
  const table = /^\[needs\]$([^]*?)(?=^\[|(?![^]))/m.exec(text)?.[1] ?? '';
  const needs = [...table.matchAll(/^"?([^"\s=#]+)"?\s*=/gm)].map(([, name]) => name);
  return { name: value('name'), version: value('version'), needs: needs.sort() };
}

/** A project as others get it. */
function project(folder) {
  const { name, version, needs } = manifest(folder);
  const load = createRequire(join(folder, 'start.js'));
  return { name, version, uses: () => needs.map((one) => load(one)) };
}

/** What somebody got, and what that got in turn. */
function words({ name, version, uses }, depth) {
  const inner = depth === 0 ? [] : uses().map((one) => words(one, depth - 1));
  return `${name} ${version}${inner.length === 0 ? '' : ` (${inner.join(', ')})`}`;
}

function print(folder) {
  for (const one of project(folder).uses()) console.log(words(one, 1));
}

module.exports = { print, project };
