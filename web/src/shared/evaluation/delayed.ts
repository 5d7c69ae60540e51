/** Work that is done once it has not been asked for again for a while. */
export class Delayed {
  readonly #ms: number
  readonly #work: () => void
  #timer: ReturnType<typeof setTimeout> | undefined

  constructor(ms: number, work: () => void) {
    this.#ms = ms
    this.#work = work
  }

  restart() {
    this.cancel()
    this.#timer = setTimeout(this.#work, this.#ms)
  }

  cancel() {
    clearTimeout(this.#timer)
  }
}
