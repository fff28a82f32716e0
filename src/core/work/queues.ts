/**
 * Where rows wait for the worker. Each row is worked on by itself; one that cannot be is tried again after growing
 * pauses, then set aside until somebody says try again or gives it up. The others go on.
 */
export type QueueName =
  | 'broadcast-begin'
  | 'broadcast-prepare'
  | 'broadcast-turns'
  | 'broadcast-companion'
  | 'broadcast-compare'
  | 'broadcast-limits'
  | 'broadcast-finish'
  | 'batch'
  | 'import'
  | 'duplicate-search'
  | 'segment-count'
  | 'program-count'
  | 'unread-text'
  | 'text'
  | 'receipt'
  | 'happening'
  | 'webhook'
  | 'enrolment'
  | 'sequence-dates'
  | 'trial'
  | 'teammate-mail'
  | 'asking'
  | 'submission'
  | 'leaving'
  | 'arrival'
  | 'chat-account'
  | 'chat-review'
  | 'chat-told'
  | 'voicemail-account'
  | 'call-event'
  | 'call-text'
  | 'sums'
  | 'report'
  | 'registrar-account'
  | 'registration'
  | 'number-provider'
  | 'number-order'
  | 'number-month'
  | 'numbers'
  | 'credits'
  | 'credit-order'
  | 'put-away'
  | 'gone-file';

/** What could not be done, and what giving it up does. */
export const QUEUE_WORDS: Record<QueueName, { cannot: string; giveUp: string }> = {
  'broadcast-begin': { cannot: 'cannot begin', giveUp: 'Make it a draft again' },
  'broadcast-prepare': { cannot: 'cannot be made ready', giveUp: 'Stop it' },
  'broadcast-turns': { cannot: 'cannot give people their turn', giveUp: 'Stop it' },
  'broadcast-companion': {
    cannot: 'cannot tell who comes before and after',
    giveUp: 'Stop what is told beside it',
  },
  'broadcast-compare': { cannot: 'cannot be compared', giveUp: 'Stop it' },
  'broadcast-limits': { cannot: 'cannot be watched', giveUp: 'Stop it' },
  'broadcast-finish': { cannot: 'cannot be closed', giveUp: 'Stop it' },
  batch: { cannot: 'cannot go on', giveUp: 'Stop it' },
  import: { cannot: 'cannot go on', giveUp: 'Stop it' },
  'duplicate-search': { cannot: 'cannot be finished', giveUp: 'End the search' },
  'segment-count': { cannot: 'cannot be counted', giveUp: 'Leave it out today' },
  'program-count': { cannot: 'cannot be counted', giveUp: 'Leave it for a day' },
  'unread-text': { cannot: 'could not be worked on', giveUp: 'Nothing follows from it' },
  text: { cannot: 'cannot be sent', giveUp: 'Call it back' },
  happening: { cannot: 'could not be passed on', giveUp: 'Leave it out' },
  webhook: { cannot: 'cannot be sent to', giveUp: 'Turn it off' },
  enrolment: { cannot: 'cannot go on', giveUp: 'Take them out' },
  'sequence-dates': { cannot: 'cannot begin by a date', giveUp: 'Begin nobody today' },
  trial: { cannot: 'cannot go on', giveUp: 'End the trial' },
  'teammate-mail': { cannot: 'cannot be sent', giveUp: 'Leave it out' },
  submission: { cannot: 'cannot be worked on', giveUp: 'Drop it' },
  asking: { cannot: 'cannot go on', giveUp: 'Ask nothing more' },
  leaving: { cannot: 'could not be opted out', giveUp: 'Decide it anew' },
  arrival: { cannot: 'could not be worked on', giveUp: 'Leave it out' },
  'chat-account': { cannot: 'cannot be checked', giveUp: 'Check it no more' },
  'chat-review': { cannot: 'cannot be reviewed', giveUp: 'Make it a draft again' },
  'chat-told': { cannot: 'could not be worked on', giveUp: 'Nothing follows from it' },
  'voicemail-account': { cannot: 'cannot be checked', giveUp: 'Check it no more' },
  'call-event': { cannot: 'could not be worked on', giveUp: 'Leave it out' },
  'call-text': { cannot: 'cannot be followed by a text', giveUp: 'Send nothing' },
  receipt: { cannot: 'could not be taken in', giveUp: 'Leave it out' },
  report: { cannot: 'cannot be sent', giveUp: 'Send it no more' },
  'registrar-account': { cannot: 'cannot be checked', giveUp: 'Check it no more' },
  'number-provider': { cannot: 'cannot be checked', giveUp: 'Check it no more' },
  'number-order': { cannot: 'cannot be taken, brought along or given back', giveUp: 'Leave it' },
  'number-month': { cannot: 'cannot be paid for', giveUp: 'Pay it no more' },
  numbers: { cannot: 'has numbers that cannot be looked after', giveUp: 'Rest none by itself' },
  credits: { cannot: 'has credits that cannot be forecast', giveUp: 'Leave it for a day' },
  'credit-order': { cannot: 'cannot be bought', giveUp: 'Leave it' },
  registration: { cannot: 'cannot go on', giveUp: 'Ask no more' },
  'put-away': { cannot: 'has old messages that cannot be put away', giveUp: 'Leave them for a month' },
  'gone-file': {
    cannot: 'had a file deleted whose bytes cannot be removed',
    giveUp: 'They were removed by hand',
  },
  sums: { cannot: 'have sums that cannot be counted anew', giveUp: 'Leave them as they are' },
};
