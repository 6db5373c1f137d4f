import {
  draftBase,
  Leveller,
  readPackageRecord,
  readWorkspace,
  schemeOf,
  type Candidate,
  type DraftBase,
  type Edit,
  type LevelPreview,
  type PackageRecord,
} from '@deep-ledger/core';

/** The workspace as the server's model has it. */
export interface Model {
  readonly commit: string;
  readonly today: string;
  readonly files: readonly { readonly path: string; readonly text: string }[];
  readonly packages: readonly object[];
  readonly missing: readonly string[];
}

/**
 * Holds a whole workspace in a worker and tries versions on it. It is the core's own computation: what it
 * previews, the server does in earnest.
 */
export class Workshop {
  private base: { readonly key: string; readonly base: Promise<DraftBase> } | null = null;
  private leveller: Leveller | null = null;

  /** @param fetchModel gets the model at an address; only asked when it is another than before */
  constructor(private readonly fetchModel: (address: string) => Promise<Model>) {}

  /** Reads the model unless it is the one in hand. */
  async open(address: string, key: string): Promise<void> {
    if (this.base?.key !== key) {
      this.leveller = null;
      this.base = { key, base: this.fetchModel(address).then(baseOf) };
    }
    try {
      await this.base.base;
    } catch (error) {
      this.base = null;
      throw error;
    }
  }

  /** Takes up a package. @returns the versions worth trying, newest first */
  async begin(name: string, edits: readonly Edit[]): Promise<readonly string[]> {
    if (this.base === null) throw new Error('no model is open');
    this.leveller = new Leveller(await this.base.base, edits, name);
    return this.leveller.versions();
  }

  preview(version: string): LevelPreview | null {
    return this.leveller?.preview(version) ?? null;
  }

  rank(previews: readonly LevelPreview[]): readonly Candidate[] {
    return this.leveller?.rank(previews) ?? [];
  }
}

function baseOf({ files, packages, missing, today }: Model): DraftBase {
  const texts = new Map(files.map(({ path, text }) => [path, text]));
  const registries = readWorkspace(texts).workspace?.registries ?? [];
  const records = new Map<string, PackageRecord | null>(missing.map((name) => [name, null]));
  for (const document of packages) {
    const name = 'name' in document ? String(document.name) : '';
    const reading = readPackageRecord(document, schemeOf(registries, name));
    if (!reading.ok) throw new Error(`${reading.problem.pointer}: ${reading.problem.message}`);
    records.set(reading.record.name, reading.record);
  }
  return draftBase(texts, records, today);
}
