/** What happened to a wording, as its history tells it. */
export const EVENT_WORDS: Record<string, string> = {
  'hand-in': 'handed in',
  'call-back': 'called back',
  approve: 'approved',
  refuse: 'refused',
  pause: 'paused by the network',
  resume: 'taken up again',
  withdraw: 'withdrawn',
};
