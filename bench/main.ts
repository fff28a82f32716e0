import { benchCalls } from './calls';
import { benchClicks } from './clicks';
import { benchClearance, benchText } from './core';
import { benchDelivery } from './delivery';
import { benchDoors } from './doors';
import { benchForms } from './forms';
import { benchHands } from './hands';
import { benchHappenings } from './happenings';
import { benchInbox } from './inbox';
import { benchInquiries } from './inquiries';
import { benchJoining } from './joining';
import { benchKills } from './kills';
import { benchPages } from './pages';
import { benchPeople } from './people';
import { benchReaders } from './readers';
import { benchResults } from './results';
import { benchSending } from './sending';
import { benchSequences } from './sequences';
import { benchVoicemail } from './voicemail';

/** `npm run bench -- people` runs one part: core, delivery, doors, sequences, joining, forms, inquiries, inbox, hands, happenings, readers, calls, voicemail, clicks, sending, kills, pages, results or people; `people duplicates importing` some of its parts. */
const [only, ...parts] = process.argv.slice(2);
if (!only || only === 'core') {
  benchText();
  benchClearance();
}
if (!only || only === 'delivery') await benchDelivery();
if (!only || only === 'doors') await benchDoors();
if (!only || only === 'sequences') await benchSequences();
if (!only || only === 'joining') await benchJoining();
if (!only || only === 'forms') await benchForms();
if (!only || only === 'inquiries') await benchInquiries(parts);
if (!only || only === 'inbox') await benchInbox();
if (!only || only === 'hands') await benchHands();
if (!only || only === 'happenings') await benchHappenings();
if (!only || only === 'readers') await benchReaders();
if (!only || only === 'calls') await benchCalls();
if (!only || only === 'voicemail') await benchVoicemail(parts);
if (!only || only === 'clicks') await benchClicks();
if (!only || only === 'sending') await benchSending();
if (!only || only === 'kills') await benchKills();
if (!only || only === 'pages') await benchPages();
if (!only || only === 'results') await benchResults();
if (!only || only === 'people') await benchPeople(parts);
process.exit(0);
