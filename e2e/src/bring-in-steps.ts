import type { Locator, Page } from '@playwright/test';
import { expect, HOUSE, HOUSE_TOKEN, REGISTRY } from './workspace-fixture.js';

/** The fields of a registry on the page that brings a repository in, by their order. */
export function registryFields(page: Page, index: number): Locator {
  return page.getByRole('group', { name: /^Registry/ }).nth(index);
}

/** What is typed for the two registries of Wendholm Ferries. */
export const HOUSE_FIELDS: readonly (readonly [label: string, text: string])[] = [
  ['Registry', 'house'],
  ['Is asked for', '@house/* berth-*'],
  ['Address', HOUSE],
  ['Token', HOUSE_TOKEN],
  ['Try it with a package', '@house/tide-tables'],
  ['Where its documents are', '/goods/{+name}'],
];

/** Goes on to the registries, and says where both are and how the house registry speaks. */
export async function fillRegistries(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Registries', exact: true }).click();
  await page.getByRole('button', { name: 'Another registry' }).click();
  const house = registryFields(page, 0);
  for (const [label, text] of HOUSE_FIELDS)
    await house.getByLabel(label, { exact: true }).fill(text);
  await house.getByRole('button', { name: 'Try', exact: true }).click();
  await house.getByRole('button', { name: 'Read it so' }).click();
  await expect(house.getByText('@house/tide-tables: 8 releases')).toBeVisible();
  const main = registryFields(page, 1);
  await main.getByLabel('Address', { exact: true }).fill(REGISTRY);
}
