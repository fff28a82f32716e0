import { frequencyPhrase, type ProgramWording } from '@/core/text/wording';
import type { Workspace } from '@/db/access/entities';
import type { Program } from '@/db/programs/entities';

/** What automatic answers of a program say of it. */
export const wordingOf = (workspace: Workspace, program: Program): ProgramWording => ({
  business: workspace.business,
  program: program.name,
  frequency: frequencyPhrase(program.promiseCount, program.promisePeriod),
  contact: workspace.contact,
});
