/** Lets what is done to one subject happen one at a time, in the order it was asked for; what is done to others goes on beside it. */
export class OneAtATime {
  private readonly last = new Map<string, Promise<unknown>>();

  of<T>(subject: string, work: () => Promise<T>): Promise<T> {
    const turn = (this.last.get(subject) ?? Promise.resolve()).then(work, work);
    const settled = turn.catch(() => undefined);
    this.last.set(subject, settled);
    void settled.then(() => {
      if (this.last.get(subject) === settled) this.last.delete(subject);
    });
    return turn;
  }
}
