import { benchClearance, benchText } from './core';
import { benchDelivery } from './delivery';
import { benchPeople } from './people';

/** `npm run bench -- people` runs one part: core, delivery or people. */
const only = process.argv[2];
if (!only || only === 'core') {
  benchText();
  benchClearance();
}
if (!only || only === 'delivery') await benchDelivery();
if (!only || only === 'people') await benchPeople();
process.exit(0);
