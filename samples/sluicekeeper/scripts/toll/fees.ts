/** What each cargo pays at the booth, in pence. */
export const FEES = {
  coal: { pence: 4 },
  clay: { pence: 7 },
  grain: { pence: 5 },
};
