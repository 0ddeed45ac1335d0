/** Sends what happens in a game to Glue Trace. The address and the token stand under Play logs. */
interface Happened {
  type: string;
  source: string;
  subject?: string;
  data?: unknown;
  happening?: string;
  handler?: string;
  frame?: number;
  side?: string;
  cause?: string;
}

export class PlayLog {
  private waiting: object[] = [];
  private sending = Promise.resolve();
  private last = 0;

  constructor(
    private readonly address: string,
    private readonly token: string,
  ) {}

  /** Gives the id of the event, to be the cause of others. */
  note(happened: Happened): string {
    const id = String(++this.last);
    this.waiting.push({ specversion: '1.0', id, time: new Date().toISOString(), ...happened });
    if (this.waiting.length === 1) setTimeout(() => void this.flush(), 100);
    return id;
  }

  /** Sends what waits, in its order. A game goes on when nobody listens. */
  flush(): Promise<void> {
    const events = this.waiting;
    this.waiting = [];
    if (events.length > 0)
      this.sending = this.sending.then(async () => {
        await fetch(this.address, {
          method: 'POST',
          headers: {
            authorization: `Bearer ${this.token}`,
            'content-type': 'application/cloudevents-batch+json',
          },
          body: JSON.stringify(events),
        }).catch(() => undefined);
      });
    return this.sending;
  }
}
