import { Client } from 'pg';

/** The database server of the tests. */
export function adminUrl(): string {
  const url = process.env['DATABASE_URL'];
  if (url === undefined) throw new Error('DATABASE_URL is not set; run bin/test --only server');
  return url;
}

export async function administer(statement: string): Promise<void> {
  const client = new Client({ connectionString: adminUrl() });
  await client.connect();
  try {
    await client.query(statement);
  } finally {
    await client.end();
  }
}
