/** Signed in at a server of ours as the demo's keeper. */
export interface Session {
  readonly cookie: string;
  readonly csrf: string;
}

export async function signIn(url: string): Promise<Session> {
  const response = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'platform', password: 'brindlepeak demo' }),
  });
  if (!response.ok) throw new Error(await response.text());
  const { csrf } = (await response.json()) as { csrf: string };
  return { cookie: response.headers.getSetCookie()[0]!.split(';')[0]!, csrf };
}

/** Asks a server of ours. @throws where it does not answer as it should */
export async function ask(
  session: Session,
  address: string,
  init: { readonly method?: string; readonly body?: object } = {},
): Promise<Response> {
  const { method = 'GET', body } = init;
  const response = await fetch(address, {
    method,
    headers: {
      cookie: session.cookie,
      'x-csrf-token': session.csrf,
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  if (!response.ok) throw new Error(`${address}: ${response.status} ${await response.text()}`);
  return response;
}
