/**
 * How much longer than usual is waited before a test fails: a machine that does much else at the time is ten times
 * slower for minutes. It changes nothing where all goes well; whoever writes a test sets it to 1.
 */
const SLOWEST = Number(process.env.WREN_PATIENCE ?? 4);

export const patiently = (ms: number): number => ms * SLOWEST;
