/** Why something cannot be fetched, unpacked or laid out, in whole sentences. */
export class InstallTrouble extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'InstallTrouble';
  }
}

/** Whoever keeps archives does not let this in. */
export class NotLetIn extends InstallTrouble {}
