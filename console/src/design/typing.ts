/** Who types on within so many milliseconds goes on with the same step. */
const pause = 1000;

/** Tells which of the texts that are stored one after the other are one step of a draft. */
export class Typing {
  private step = -1;
  private begins = true;
  private last = Number.NEGATIVE_INFINITY;

  /**
   * Something was typed.
   * @param now Milliseconds on any clock.
   * @param isBack True if it takes back or brings back what was typed before: that is a step of its own, and what comes after it another.
   */
  typed(now: number, isBack: boolean) {
    if (isBack || now - this.last > pause) this.begins = true;
    this.last = isBack ? Number.NEGATIVE_INFINITY : now;
  }

  /** True if what is stored now takes the place of the step at which the draft is. */
  sent(step: number): boolean {
    const joins = !this.begins && this.step === step;
    this.begins = false;
    return joins;
  }

  /** What was typed is a step by now. */
  stored(step: number) {
    this.step = step;
  }
}
