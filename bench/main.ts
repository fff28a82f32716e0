import { benchClearance, benchText } from './core';
import { benchDelivery } from './delivery';

benchText();
benchClearance();
await benchDelivery();
process.exit(0);
