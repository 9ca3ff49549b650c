/** The server said no; the message says why. */
export class Refused extends Error {
  readonly status: number
  constructor(status: number, detail: string) {
    super(detail)
    this.status = status
  }
}
