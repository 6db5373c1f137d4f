/** Closes a switch over a union: the compiler refuses it while a case is unanswered. */
export function unreachable(value: never): never {
  throw new Error(`unanswered case: ${JSON.stringify(value)}`);
}
