import { Trouble } from './say.js';

/** Runs a program to its end; trouble is told in words, anything else is a bug and shows itself. */
export async function runMain(main: () => Promise<void>): Promise<void> {
  try {
    await main();
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    process.stderr.write(`${error.message}\n`);
    process.exitCode = 1;
  }
}
