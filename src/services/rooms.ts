import { CALLS } from './calls/room';
import { VOICEMAIL } from './voicemail/room';
import { AUDIENCE } from './audience/room';
import { BATCHES } from './batches/room';
import { CHAT } from './chat/room';
import { CLEARANCE } from './clearance/room';
import { CONSENT } from './consent/room';
import { DELIVERY } from './delivery/room';
import { EMAIL } from './email/room';
import { CREDITS } from './credits/room';
import { FORMS } from './forms/room';
import { IMPORTS } from './imports/room';
import { INBOX } from './inbox/room';
import { INQUIRIES } from './inquiries/room';
import { ITEMS } from './items/room';
import { KIT } from './kit/room-of-kit';
import type { Room } from './kit/room';
import { LINKS } from './links/room';
import { MEDIA } from './media/room';
import { NUMBERS } from './numbers/room';
import { OFFERS } from './offers/room';
import { PEOPLE } from './people/room';
import { POSTERS } from './posters/room';
import { PROGRAMS } from './programs/room';
import { QUESTIONS } from './questions/room';
import { REGISTRATION } from './registration/room';
import { RESULTS } from './results/room';
import { SENDS } from './sends/room';
import { WEBHOOKS } from './webhooks/room';
import { SEQUENCES } from './sequences/room';
import { STACKS } from './stacks/room';
import { TASKS } from './tasks/room';
import { TEAM } from './team/room';
import { TEMPLATES } from './templates/room';

/** The house. A new room is a folder of its name in `services`, `db` and `ui`, and a line here. */
export const ROOMS: readonly Room[] = [
  PEOPLE,
  AUDIENCE,
  IMPORTS,
  BATCHES,
  PROGRAMS,
  OFFERS,
  QUESTIONS,
  FORMS,
  POSTERS,
  INQUIRIES,
  CONSENT,
  LINKS,
  MEDIA,
  ITEMS,
  NUMBERS,
  CREDITS,
  REGISTRATION,
  SENDS,
  RESULTS,
  SEQUENCES,
  STACKS,
  TASKS,
  TEAM,
  TEMPLATES,
  CLEARANCE,
  DELIVERY,
  EMAIL,
  CHAT,
  VOICEMAIL,
  CALLS,
  INBOX,
  WEBHOOKS,
  KIT,
];
