import { Behaviour, bells } from 'deck';

/** The echo from the far bank: every call is answered, and every answer called. */
export class Echo extends Behaviour {
  begin(): void {
    bells.hear('bank.call', this.answer);
    bells.hear('bank.answer', this.call);
  }

  answer(): void {
    bells.ring('bank.answer');
  }

  call(): void {
    bells.ring('bank.call');
  }
}
