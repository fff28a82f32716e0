/**
 * How much longer than usual is waited before a test fails: a machine that does much else at the time is ten times
 * slower for minutes. It changes nothing where all goes well.
 */
const SLOWEST = 4;

export const patiently = (ms: number): number => ms * SLOWEST;
