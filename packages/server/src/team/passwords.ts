import { hash, verify } from '@node-rs/argon2';

/** argon2id (the library's default) with 19 MiB and two passes, as RFC 9106 and OWASP advise for servers. */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const SHORTEST_PASSWORD = 10;

export function hashPassword(password: string): Promise<string> {
  return hash(password, COST);
}

/** A hash of nothing that anyone could type, so that a name that is unknown takes as long as one that is known. */
const NOBODY = hashPassword('\u0000');

export async function isPassword(kept: string | null, password: string): Promise<boolean> {
  const isRight = await verify(kept ?? (await NOBODY), password);
  return kept !== null && isRight;
}
