/** A statement that cannot be read, with the place. Caught by the reader, once per statement. */
export class Unreadable extends Error {
  constructor(
    readonly from: number,
    readonly to: number,
    readonly expected: string,
  ) {
    super(expected)
    this.name = 'Unreadable'
  }
}
