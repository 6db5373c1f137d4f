import { LRUCache } from 'lru-cache';
import type { TreeFile } from './tree-file.js';

/** So many files of all trees that are kept together. */
export const MOST_FILES = 200_000;
/** So many characters of all texts that are kept together. */
export const MOST_CHARACTERS = 1 << 24;

/**
 * What trees and files say, which never changes under their ids. Of each clone for itself: a tree may name a file that its
 * repository does not have, and must not get it from another.
 */
export class KeptContents {
  private readonly trees = new LRUCache<string, readonly TreeFile[]>({
    maxSize: MOST_FILES,
    sizeCalculation: ({ length }) => length + 1,
  });
  private readonly texts = new LRUCache<string, string>({
    maxSize: MOST_CHARACTERS,
    sizeCalculation: ({ length }) => length + 1,
  });

  tree(id: string, commit: string): readonly TreeFile[] | undefined {
    return this.trees.get(`${id} ${commit}`);
  }

  keepTree(id: string, commit: string, tree: readonly TreeFile[]): void {
    this.trees.set(`${id} ${commit}`, tree);
  }

  text(id: string, oid: string): string | undefined {
    return this.texts.get(`${id} ${oid}`);
  }

  keepText(id: string, oid: string, text: string): void {
    this.texts.set(`${id} ${oid}`, text);
  }
}
