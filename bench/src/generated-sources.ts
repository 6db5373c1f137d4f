import type { Workspace } from '@deep-ledger/core';

const FILES_IN_A_PROJECT = 20;
const LINES = 36;

/** Source files that import what their project requires, about 3 kB each: 20 for each project. */
export function generatedSources({ projects }: Workspace): ReadonlyMap<string, string> {
  const sources = new Map<string, string>();
  for (const { folder, requirements } of projects) {
    for (let file = 0; file < FILES_IN_A_PROJECT; file++) {
      const imports = requirements
        .filter((_, i) => i % FILES_IN_A_PROJECT === file % Math.max(1, requirements.length))
        .map(({ name }, i) => `import { part${i} } from "${name}/part";`);
      const body = Array.from(
        { length: LINES },
        (_, i) =>
          `export const value${i} = (a: number): string => \`${folder} ${file} \${a + ${i}}\`;`,
      );
      sources.set(`${folder}/src/file${file}.ts`, [...imports, ...body, ''].join('\n'));
    }
  }
  return sources;
}
