import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { INestApplicationContext } from '@nestjs/common';
import type { Logger } from 'pino';
import type { Settings } from '../settings.js';
import { AccountsService } from '../team/accounts.service.js';
import type { Role } from '../team/capability.js';
import { StandingOrders } from '../standing/standing-orders.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';

/** Known to everyone who reads the README: a demonstration listens on this machine alone. */
const DEMO_PASSWORD = 'brindlepeak demo';
const DEMO_PEOPLE: readonly (readonly [name: string, shownName: string, role: Role])[] = [
  ['platform', 'platform crew', 'keeper'],
  ['kiosk', 'kiosk crew', 'editor'],
  ['gate', 'gate crew', 'reader'],
];

/** Lets the standing orders of a demonstration run once, so that there is something to see of them. */
async function runOrders(app: INestApplicationContext, entity: WorkspaceEntity): Promise<void> {
  const orders = app.get(StandingOrders, { strict: false });
  const { base } = await app.get(SnapshotService, { strict: false }).read(entity);
  const standing = base.workspace?.standing ?? [];
  await orders.know(entity, standing);
  for (const order of standing) await orders.runNow(entity, order, 'the demonstration');
}

export const LINK_FILE = 'first-keeper-link';

/**
 * What a server does where nobody can sign in yet: fills a demonstration, or writes the first keeper's
 * link into a file that its owner alone can read. The log names the file, not the link.
 */
export async function firstStart(
  app: INestApplicationContext,
  settings: Settings,
  log: Logger,
): Promise<void> {
  const accounts = app.get(AccountsService, { strict: false });
  const isEmpty = await accounts.isEmpty();
  if (settings.demo !== null) {
    if (isEmpty)
      for (const [name, shownName, role] of DEMO_PEOPLE) {
        const email = `${name}.crew@brindlepeak.example`;
        await accounts.add({ name, shownName, email, role }, DEMO_PASSWORD);
      }
    const { address, registry, toBringIn } = settings.demo;
    const workspaces = app.get(WorkspaceService, { strict: false });
    const shown = await workspaces.open({ address, branch: 'main', registry });
    if (isEmpty) await runOrders(app, shown);
    if (toBringIn !== null) await workspaces.open({ address: toBringIn, branch: 'main' });
  } else if (isEmpty) {
    const file = join(settings.dataFolder, LINK_FILE);
    await mkdir(settings.dataFolder, { recursive: true });
    const link = new URL(`/link#${await accounts.link(null)}`, settings.publicUrl).toString();
    await writeFile(file, `${link}\n`, { mode: 0o600 });
    log.info({ file }, 'nobody can sign in yet; the link for the first keeper is in this file');
  }
}
