/** Refusals of a bind, and what to do about each. Source: SMPP 3.4, 5.1.3. */
const BIND_REFUSALS: Record<number, string> = {
  0x03: 'It does not know this kind of bind: it may want one connection out and one in.',
  0x04: 'It does not take this kind of bind now: it may want one connection out and one in, or has enough of them.',
  0x05: 'It says that this system id is bound already. Another process may use it, or too many workers.',
  0x08: 'It has an error of its own. Try again later.',
  0x0d: 'It refuses the bind. Ask the carrier why.',
  0x0e: 'The password is wrong.',
  0x0f: 'It does not know the system id.',
  0x53: 'It does not know the system type.',
  0x58: 'It asks to slow down: too many connections or attempts.',
};

export const statusWords = (status: number): string =>
  `${BIND_REFUSALS[status] ?? 'It refuses the bind.'} (0x${status.toString(16).padStart(2, '0')})`;
