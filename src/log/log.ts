import pino from 'pino';

/**
 * One line of JSON for each thing that happened, to standard output. No text of anybody and no number in clear stands in
 * it: messages and people are named by their ids.
 * @see docs/operations.md, Logs
 */
export const log = pino(
  {
    level: process.env.WREN_LOG_LEVEL || 'info',
    base: { pid: process.pid },
    timestamp: pino.stdTimeFunctions.isoTime,
    formatters: { level: (level) => ({ level }) },
    serializers: { err: shownError },
  },
  // A test hears of faults as of any, and of nothing else; the processes it starts log as they always do.
  '__vitest_worker__' in globalThis ? { write: onlyFaults } : pino.destination({ dest: 1, sync: true }),
);

function onlyFaults(line: string): void {
  if (/"level":"(?:error|fatal)"/.test(line)) console.error(line);
}

/** What an error says of itself, without the values of the rows it is about. */
export function shownError(error: unknown): object {
  if (!(error instanceof Error)) return { message: withoutNumbers(withoutStatement(String(error))) };
  const short = withoutStatement(error.message);
  const { code } = error as { code?: unknown };
  return {
    type: error.name,
    message: withoutNumbers(short),
    ...(typeof code === 'string' || typeof code === 'number' ? { code } : {}),
    stack: withoutNumbers((error.stack ?? '').replaceAll(error.message, short)),
  };
}

/** The database layer puts the statement with its values before what was wrong with it, and values are people's words. */
const withoutStatement = (message: string): string =>
  /^(?:insert|update|delete|select|with)\b[\s\S]* - ([\s\S]*)$/i.exec(message)?.[1] ?? message;

/** Phone numbers and addresses of mail made unreadable, but for what tells one from another. */
export const withoutNumbers = (text: string): string =>
  text
    .replace(/\+?\d{7,15}/g, (number) => `${'•'.repeat(number.length - 2)}${number.slice(-2)}`)
    .replace(/[^\s@"'<>(),;:/]+@[^\s@"'<>(),;:/]+\.[a-z]{2,}/gi, '•@•');
