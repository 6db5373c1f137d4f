import { describe, expect, test } from 'vitest';
import { knownPackage, packageOfSpecifier } from './package-of-specifier.js';
import { SourceScanner } from './scan-source.js';

const scanner = new SourceScanner({
  skip: ['generated/**'],
  patterns: [
    { files: ['*.py'], reads: 'from {package} import' },
    { files: ['*.py'], reads: 'import {package}' },
    { files: ['tools/**/*.cfg'], reads: 'use "{package}"' },
  ],
});

function packages(text: string, path = 'index.ts'): readonly string[] {
  return scanner.scan(path, text).references.map((one) => one.package);
}

/** What refers to `firn`, form by form. */
const FORMS: readonly (readonly [text: string] | readonly [text: string, path: string])[] = [
  [`import firn from "firn";`],
  [`import firn from 'firn'`],
  [`import { a } from "firn";`],
  [`import { a as b, type C } from "firn";`],
  [`import * as all from "firn";`],
  [`import firn, { a } from "firn";`],
  [`import firn, * as all from "firn";`],
  [`import "firn";`],
  [`import"firn"`],
  [`import{a}from"firn"`],
  [`import { default as a } from "firn";`],
  [`import { "odd name" as a } from "firn";`],
  [`import data from "firn/data.json" with { type: "json" };`],
  [`import {\n  a,\n  b,\n} from\n  "firn";`],
  [`import { a } from "firn/sub/path.js";`],
  [`import { a } from "firn?raw";`],
  [`import text from "raw!firn/text.txt";`],
  [`import type { A } from "firn";`],
  [`import type A from "firn";`],
  [`import type * as A from "firn";`],
  [`import { type A } from "firn";`],
  [`import defer * as later from "firn";`, 'a.js'],
  [`import source wasm from "firn/a.wasm";`, 'a.js'],
  [`export { a } from "firn";`],
  [`export * from "firn";`],
  [`export * as all from "firn";`],
  [`export { default } from "firn";`],
  [`export { default as firn } from "firn";`],
  [`export type { A } from "firn";`],
  [`export type * from "firn";`],
  [`import firn = require("firn");`],
  [`export import firn = require("firn");`],
  [`import type firn = require("firn");`],
  [`const a = await import("firn");`],
  [`import("firn").then((m) => m.a);`],
  [`const load = () => import(/* in a file of its own */ "firn");`],
  ['const a = import(`firn`);'],
  ['const a = import(`firn/${name}.js`);'],
  [`const a = import("firn/" + name);`],
  [`const a = import("fi" + "rn");`],
  [`const a = import(wide ? "firn" : "./narrow.js");`],
  [`const a = import("firn" as string);`],
  [`const a = import("firn", { with: { type: "json" } });`],
  [`const FIRN = "firn"; const a = import(FIRN);`],
  [`const a = require("firn");`],
  [`const { a } = require('firn').sub;`, 'a.cjs'],
  [`const a = require("firn/sub");`, 'a.js'],
  [`if (isOld) require("firn");`, 'a.cjs'],
  [`let a; try { a = require("firn") } catch {}`, 'a.cjs'],
  [`const a = module.require("firn");`, 'a.cjs'],
  [`const a = require?.("firn");`, 'a.cjs'],
  [
    `import { createRequire } from "module"; const need = createRequire(import.meta.url); need("firn");`,
  ],
  [`import { createRequire } from "module"; createRequire(import.meta.url)("firn");`],
  [`const path = require.resolve("firn");`, 'a.cjs'],
  [`const path = require.resolve("firn", { paths: [] });`, 'a.cjs'],
  [`const url = import.meta.resolve("firn");`],
  [`const url = import.meta.resolve?.("firn/style.css");`],
  [`let a: import("firn").A;`],
  [`type A = typeof import("firn");`],
  [`type A = import("firn").B<import("./own.js").C>;`],
  [`declare module "firn" { interface A { b: string } }`],
  [`/// <reference types="firn" />\nexport {};`],
  [`/** @type {import("firn").A} */\nlet a;`, 'a.js'],
  [`/**\n * @param {Map<string, import('firn').A>} a\n */\nfunction f(a) {}`, 'a.js'],
  [`/** @import { A } from "firn" */`, 'a.js'],
  [`/** @jsxImportSource firn */\nexport {};`, 'a.tsx'],
  [`const view = <Hut>{import("firn")}</Hut>;`, 'a.tsx'],
  [`import { a } from "firn"; const view = <a.b c="import d from 'hut'" />;`, 'a.jsx'],
  [`const cast = <string>value; import firn from "firn";`, 'a.ts'],
  [`@seal() class Hut { accessor a = require("firn"); }`],
  [`#!/usr/bin/env node\nrequire("firn")`, 'a.js'],
  [`\uFEFFimport "firn";`],
  [`return require("firn")`, 'a.cjs'],
  [`const f = function (a: number): a is any { return require("firn") }`],
  [`using hut = await import("firn");`],
  [`enum A { b = 1 } namespace C { export import firn = require("firn") }`],
  [
    `<template>hut</template>\n<script setup lang="ts">\nimport { a } from "firn";\n</script>`,
    'a.vue',
  ],
  [`<script>\n  import firn from "firn";\n</script>\n<p>{firn}</p>`, 'a.svelte'],
  [`<script type="module">import "firn"</script>`, 'a.html'],
  [`<script a=">" type="text/javascript">require("firn")</script>`, 'a.html'],
  [`---\nimport Hut from "firn/Hut.astro";\n---\n<Hut />`, 'a.astro'],
  [`# Huts\n\nimport { Hut } from "firn"\n\n<Hut />`, 'a.mdx'],
  [`import { Hut } from "firn"\nexport const a = 1\n\n# Huts`, 'a.mdx'],
  [`# Huts\n\n<script setup>\nimport "firn"\n</script>`, 'a.md'],
  [`from firn import hut`, 'a.py'],
  [`    import   firn`, 'deep/a.py'],
  [`use "firn"`, 'tools/x/a.cfg'],
];

/** What only looks as if it referred to `firn`. */
const LOOKALIKES: typeof FORMS = [
  [`// import firn from "firn";`],
  [`/* import firn from "firn"; */`],
  [`/*\n * const a = require("firn");\n */`],
  [`const text = 'import firn from "firn"';`],
  [`const text = "require('firn')";`],
  ['const text = `import firn from "firn"`;'],
  ['const text = `\nimport firn from "firn";\n`;'],
  [`const pattern = /import "firn"/;`],
  [`hut.import("firn");`],
  [`hut.require("firn");`],
  [`hut.resolve("firn");`],
  [`const from = "firn";`],
  [`const a = { import: "firn", require: "firn" };`],
  [`import own from "./firn";`],
  [`import own from "../firn/index.js";`],
  [`import own from "/firn";`],
  [`import own from "#firn";`],
  [`import own from "node:firn";`],
  [`import own from "https://huts.test/firn";`],
  [`import own from "data:text/javascript,firn";`],
  [`import own from "~/firn";`],
  [`import own from "@/firn";`],
  [`class A { import(firn: "firn") {} require(a = "firn") {} }`],
  [`const view = <p>import firn from "firn"</p>;`, 'a.tsx'],
  [`const view = <p title='require("firn")' />;`, 'a.jsx'],
  [`declare module "*.firn";`],
  [`<p>import firn from "firn"</p>`, 'a.html'],
  [`<!-- <script>import "firn"</script> -->`, 'a.html'],
  [`<script type="application/json">{"a": "import 'firn'"}</script>`, 'a.html'],
  ['# Huts\n\n```ts\nimport { a } from "firn";\n```\n', 'a.md'],
  ['~~~~\n```\nimport "firn"\n~~~\n~~~~\n', 'a.mdx'],
  ['We import "firn" where\nimport "firn" is meant.', 'a.md'],
  [`# import firn`, 'a.py'],
  [`text = "import firn"`, 'a.py'],
  [`use "firn"`, 'elsewhere/a.cfg'],
  [`import firn`, 'a.txt'],
];

test('there are as many forms as were asked for', () => {
  expect(FORMS.length).toBeGreaterThanOrEqual(60);
});

test.each([...FORMS])('%s refers to the package', (text: string, path?: string) => {
  expect(packages(text, path)).toContain('firn');
});

test.each([...LOOKALIKES])(
  '%s refers to no package of that name',
  (text: string, path?: string) => {
    expect(packages(text, path)).not.toContain('firn');
  },
);

describe('a reference', () => {
  test('says where it stands, in which form, and whether anything runs', () => {
    const text = `import type { A } from "firn";\n\n  const a = await import("hut/sub");\n`;
    expect(scanner.scan('a.ts', text).references).toEqual([
      {
        package: 'firn',
        specifier: 'firn',
        form: 'import',
        line: 1,
        column: 24,
        isTypeOnly: true,
        isSure: true,
      },
      {
        package: 'hut',
        specifier: 'hut/sub',
        form: 'import()',
        line: 3,
        column: 26,
        isTypeOnly: false,
        isSure: true,
      },
    ]);
  });

  test('in a block of another file stands in its line there', () => {
    const [reference] = scanner.scan(
      'a.vue',
      `<template/>\n\n<script>\nimport "firn";\n</script>`,
    ).references;
    expect(reference).toMatchObject({ line: 4, column: 8 });
  });

  test('is unsure where another thing may be meant', () => {
    const sure = (text: string, path = 'a.js'): boolean | undefined =>
      scanner.scan(path, text).references[0]?.isSure;
    expect(sure('require("firn")')).toBe(true);
    expect(sure('define(function (require) { require("firn") })')).toBe(false);
    expect(sure('/** @type {import("firn").A} */ let a')).toBe(false);
    expect(sure('import firn', 'a.py')).toBe(false);
    expect(sure('const A = "firn"; import(A)')).toBe(false);
  });
});

describe('what a scan could not see', () => {
  test.each([
    ['import(name)', 'name'],
    ['require(path.join(a, "firn"))', 'path.join(a, "firn")'],
    ['import(`${name}/a.js`)', '`${name}/a.js`'],
    ['import.meta.resolve(name)', 'name'],
    ['import(name ?? "firn")', 'name ?? "firn"'],
  ])('%s', (text, unseen) => {
    expect(scanner.scan('a.js', `\n${text}`).unseen).toEqual([
      { line: 2, what: 'computed', text: unseen },
    ]);
  });

  test('is a file that cannot be parsed, with its line', () => {
    const { references, unseen } = scanner.scan('a.ts', 'import a from "firn";\nconst = ;\n}}}');
    expect(references).toEqual([]);
    expect(unseen).toMatchObject([{ line: 2, what: 'syntax' }]);
  });
});

test.each([
  ['firn', 'firn'],
  ['firn/sub', 'firn'],
  ['firn?raw', 'firn'],
  ['a!b!firn/x', 'firn'],
  ['./firn', null],
  ['@crew/firn', '@crew'],
  ['@/firn', null],
  ['~/firn', null],
  ['https://firn.example/x', null],
  ['', null],
  ['FIRN', 'FIRN'],
])('the package of "%s" is %s', (specifier, name) => {
  expect(packageOfSpecifier(specifier)).toBe(name);
});

test.each([
  ['@crew/firn/sub', '@crew/firn'],
  ['@crew/firn', '@crew/firn'],
  ['@crew/firnly', null],
  ['raw!a/b/c?x', 'a/b'],
  ['a/c', 'a'],
  ['b', null],
])('of the packages @crew/firn, a and a/b the specifier "%s" names %s', (specifier, name) => {
  expect(knownPackage(specifier, (one) => ['@crew/firn', 'a', 'a/b'].includes(one))).toBe(name);
});

test('files that machines wrote, and those that are skipped, are no source', () => {
  const isSource = (path: string): boolean => scanner.isSource(path);
  expect(['src/a.ts', 'a.mjs', 'docs/a.md', 'x/a.py'].every(isSource)).toBe(true);
  expect(
    ['generated/a.ts', 'node_modules/firn/a.js', 'a.min.js', 'a.png', 'a.cfg'].some(isSource),
  ).toBe(false);
});
