/** A file that is there but cannot be used; the message is for people. */
export class UnreadableFile extends Error {}
