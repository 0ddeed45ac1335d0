/** All checks of play, in the order in which they are told. */
import { addsUp } from './adds-up.js';
import type { PlayCheck } from './check.js';
import { failed } from './failed.js';
import { flagUnset } from './flag-unset.js';
import { goesRound } from './goes-round.js';
import { gone } from './gone.js';
import { handledTwice } from './handled-twice.js';
import { neverSentInPlay } from './never-sent.js';
import { otherOrder } from './other-order.js';
import { payload } from './payload.js';
import { storm } from './storm.js';
import { tooEarly } from './too-early.js';
import { unhandled } from './unhandled.js';
import { unknownEvent } from './unknown-event.js';
import { unknownSender } from './unknown-sender.js';

export const PLAY_CHECKS: readonly PlayCheck[] = [
  ...[failed, gone, goesRound, storm, handledTwice, unhandled, tooEarly, otherOrder, payload, unknownEvent],
  ...[unknownSender, addsUp, flagUnset, neverSentInPlay],
];
