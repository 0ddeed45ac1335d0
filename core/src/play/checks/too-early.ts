import { sentence } from '../../model/finding.js';
import { endsOf, eventIn, meet, timesOf, type Met, type Place, type PlayCheck } from './check.js';

/** An event was sent before anybody listened to it. */
export const tooEarly: PlayCheck = {
  id: 'play/too-early',
  title: 'Sent before the listener came',
  severity: 'warning',
  why: 'What was sent then is lost, on a slower machine or after another order of loading more of it.',
  decides:
    'Needs logs that tell when somebody begins to listen (listening) and stops (ended). Fires where an event was sent while nobody listened, and the first listener came after it in the same session. Never sent again, it is a warning, else a note. Silent on what the engine sends by itself.',
  begin(play) {
    const early = new Map<string, Met & { by: string; came: Place; again: boolean }>();
    let listening = new Map<string, number>();
    let lost = new Map<string, Met>();
    return {
      session() {
        listening = new Map();
        lost = new Map();
      },
      take({ type, source, happening, handler }, at) {
        const count = listening.get(type) ?? 0;
        if (happening === 'ended') listening.set(type, Math.max(0, count - 1));
        else if (happening === 'sent') {
          const known = early.get(type);
          if (count > 0 && known) known.again = true;
          if (count === 0 && !play.isEngines(type)) meet(lost, type, at);
        } else if (happening === 'listening') {
          listening.set(type, count + 1);
          const missed = lost.get(type);
          if (count > 0 || !missed) return;
          lost.delete(type);
          const known = early.get(type);
          if (known) known.times += missed.times;
          else early.set(type, { ...missed, by: handler ?? source, came: at, again: false });
        }
      },
      end: () =>
        [...early].map(([type, { times, lines, by, came, again }]) => {
          const { run, pieces } = eventIn(play, type);
          const [piece] = play.named(by);
          return {
            sentence: [
              ...sentence`${run} was sent ${timesOf(times)} before ${{ name: by, piece }} began to listen`,
              again ? '' : ', and not again after it',
            ].filter((one) => one !== ''),
            sure: 'Nobody listened to it then, and somebody did later.',
            ...{ times, lines: [...lines.slice(0, 4), came], pieces },
            evidence: endsOf(play.events.get(type)?.listeners, 'where it is listened to'),
            severity: again ? ('note' as const) : undefined,
          };
        }),
    };
  },
};
