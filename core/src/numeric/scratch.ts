/**
 * Room for the figures of one call of a function that never calls itself: taken again and again without allocating,
 * which in the loop over a fleet costs more than the arithmetic. Arrays are at least as long as asked for and hold what
 * the last call left.
 */
export class Scratch {
  private room = new Float64Array(64);

  take(length: number): Float64Array {
    if (this.room.length < length) this.room = new Float64Array(2 * length);
    return this.room;
  }

  /** The same, filled with 0 up to `length`. */
  takeEmpty(length: number): Float64Array {
    const room = this.take(length);
    for (let i = 0; i < length; i += 1) room[i] = 0;
    return room;
  }
}
