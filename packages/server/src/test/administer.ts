import { Client } from 'pg';

/** The database server of the tests. */
export function adminUrl(): string {
  const url = process.env['DATABASE_URL'];
  if (url === undefined) throw new Error('DATABASE_URL is not set; run bin/test --only server');
  return url;
}

export async function administer(
  statement: string,
  values: readonly string[] = [],
): Promise<readonly Readonly<Record<string, unknown>>[]> {
  const client = new Client({ connectionString: adminUrl() });
  await client.connect();
  try {
    const { rows } = await client.query<Record<string, unknown>>(statement, [...values]);
    return rows;
  } finally {
    await client.end();
  }
}
