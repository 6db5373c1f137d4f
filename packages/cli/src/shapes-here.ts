import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { NO_SHAPES, readShapes, SHAPES_FILE, type Shapes } from '@deep-ledger/core';

/** The shapes of a work tree; none where it has none that can be read. */
export async function shapesHere(root: string): Promise<Shapes> {
  try {
    return readShapes(await readFile(join(root, SHAPES_FILE), 'utf8')).shapes ?? NO_SHAPES;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return NO_SHAPES;
    throw error;
  }
}
