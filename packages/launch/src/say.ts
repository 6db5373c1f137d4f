/** One line for the person at the terminal. */
export function say(line: string): void {
  process.stdout.write(`${line}\n`);
}

/** Something the person has to act on; ends the program with status 1 when it reaches the top. */
export class Trouble extends Error {}
