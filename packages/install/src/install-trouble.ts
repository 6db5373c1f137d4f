/** Why something cannot be fetched, unpacked or laid out, in whole sentences. */
export class InstallTrouble extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'InstallTrouble';
  }
}
