/**
 * The life of an import.
 *
 *   draft --check--> checking --tried--> checked --run--> running --settle--> finished
 *     |                |  ^                 |             |   ^                  |
 *     +-----fail------>|  +----- check -----+            stop run               undo
 *                      v                                  v   |                  v
 *                    failed --check--> checking         stopped ----undo----> undoing --settle--> undone
 *                                                          ^------ stop ---------+
 *
 * `read`: a draft, a tried one and one that failed are read anew from the file, as another sheet or with another row as header.
 * Stopping a trial run throws it away. A draft, a tried one and one that failed can be dropped: they changed nobody.
 */
export type ImportState =
  | 'draft'
  | 'checking'
  | 'checked'
  | 'running'
  | 'finished'
  | 'stopped'
  | 'failed'
  | 'undoing'
  | 'undone';
export type ImportEvent = 'read' | 'check' | 'tried' | 'fail' | 'run' | 'settle' | 'stop' | 'undo';

export const IMPORT_MOVES: Record<ImportState, Partial<Record<ImportEvent, ImportState>>> = {
  draft: { read: 'draft', check: 'checking', fail: 'failed' },
  checking: { tried: 'checked', fail: 'failed', stop: 'failed' },
  checked: { read: 'draft', check: 'checking', run: 'running' },
  running: { settle: 'finished', stop: 'stopped' },
  finished: { undo: 'undoing' },
  stopped: { run: 'running', undo: 'undoing' },
  failed: { read: 'draft', check: 'checking' },
  undoing: { settle: 'undone', stop: 'stopped' },
  undone: {},
};

/** Each state an event may find, and the one it leads to. */
export const importMoves = (event: ImportEvent): [from: ImportState, to: ImportState][] =>
  (Object.keys(IMPORT_MOVES) as ImportState[]).flatMap((from): [ImportState, ImportState][] => {
    const to = IMPORT_MOVES[from][event];
    return to ? [[from, to]] : [];
  });

/** Nothing of these was carried out: they can be thrown away. */
export const DROPPABLE: readonly ImportState[] = ['draft', 'checked', 'failed'];
