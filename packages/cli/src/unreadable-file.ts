/** A file that is not what is expected there; the message is for people. */
export class UnreadableFile extends Error {
  override readonly name = 'UnreadableFile';
}
