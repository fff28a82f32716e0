import * as access from './access/entities';
import * as audience from './audience/entities';
import * as batches from './batches/entities';
import * as calls from './calls/entities';
import * as chat from './chat/entities';
import * as consent from './consent/entities';
import * as credits from './credits/entities';
import * as delivery from './delivery/entities';
import * as email from './email/entities';
import * as forms from './forms/entities';
import * as imports from './imports/entities';
import * as inbox from './inbox/entities';
import * as inquiries from './inquiries/entities';
import * as items from './items/entities';
import * as kit from './kit/entities';
import * as links from './links/entities';
import * as media from './media/entities';
import * as numbers from './numbers/entities';
import * as offers from './offers/entities';
import * as people from './people/entities';
import * as posters from './posters/entities';
import * as programs from './programs/entities';
import * as questions from './questions/entities';
import * as registration from './registration/entities';
import * as results from './results/entities';
import * as sends from './sends/entities';
import * as sequences from './sequences/entities';
import * as stacks from './stacks/entities';
import * as tasks from './tasks/entities';
import * as templates from './templates/entities';
import * as voicemail from './voicemail/entities';
import * as webhooks from './webhooks/entities';

/** Every table, room by room. Rows that move in sets are written in SQL beside them; a test holds the two to each other. */
export const ENTITIES = [
  access,
  audience,
  batches,
  calls,
  chat,
  consent,
  credits,
  delivery,
  email,
  forms,
  imports,
  inbox,
  inquiries,
  items,
  kit,
  links,
  media,
  numbers,
  offers,
  people,
  posters,
  programs,
  questions,
  registration,
  results,
  sends,
  sequences,
  stacks,
  tasks,
  templates,
  voicemail,
  webhooks,
].flatMap((room) => Object.values(room));
