/** A file of a commit's tree. */
export interface TreeFile {
  readonly path: string;
  readonly oid: string;
  readonly bytes: number;
}
