// Learns the weights of the reply model from its corpus: `npx tsx scripts/train-replies.ts`. Prints how it does on parts it did not learn from.
import { readFileSync, writeFileSync } from 'node:fs';
import { featuresOf, undisguised } from '../src/core/reply/features';
import { byRules, interpret, weighed } from '../src/core/reply/interpret';
import { plainLatin } from '../src/core/reply/normalise';
import { readCorpus } from '../src/core/reply/testing/corpus';

const corpus = readCorpus(readFileSync('src/core/reply/testing/tune.txt', 'utf8'))
  .filter(({ label }) => label !== 'unclear')
  .map(({ label, text }) => ({ text, out: label === 'out' ? 1 : 0, features: featuresOf(plainLatin(text)) }));

const [ROUNDS, RATE, L2, SMALLEST] = [
  Number(process.env.R ?? 25),
  Number(process.env.A ?? 0.15),
  Number(process.env.L ?? 0.0005),
  0.25,
];

/** Logistic regression by stochastic gradients with a step of its own for each weight (Duchi and others, 2011). */
function learn(all: typeof corpus): Map<string, number> {
  const seen = new Map<string, number>();
  for (const { features } of all)
    for (const feature of features) seen.set(feature, (seen.get(feature) ?? 0) + 1);
  // What is pieced together counts only when more than one reply has it: most of what is seen once is chance.
  const examples = all.map((example) => ({
    ...example,
    features: example.features.filter((feature) => !/^[cs]:/.test(feature) || seen.get(feature)! > 1),
  }));
  const weights = new Map<string, number>();
  const squares = new Map<string, number>();
  let seed = 20261127;
  const chance = () => (seed = (seed * 1_664_525 + 1_013_904_223) >>> 0) / 2 ** 32;
  for (let round = 0; round < ROUNDS; round++) {
    const order = examples.map((example) => ({ example, at: chance() })).sort((a, b) => a.at - b.at);
    for (const { example } of order) {
      // A rare feature says less than a common one: each is a share of all.
      const size = 1 / Math.sqrt(example.features.length);
      const sum = example.features.reduce((total, feature) => total + (weights.get(feature) ?? 0), 0) * size;
      const wrong = 1 / (1 + Math.exp(-sum)) - example.out;
      for (const feature of example.features) {
        const weight = weights.get(feature) ?? 0;
        const slope = wrong * size + L2 * weight;
        const square = (squares.get(feature) ?? 0.0001) + slope * slope;
        squares.set(feature, square);
        weights.set(feature, weight - (RATE * slope) / Math.sqrt(square));
      }
    }
  }
  return weights;
}

const score = (weights: ReadonlyMap<string, number>, features: readonly string[]): number =>
  1 /
  (1 +
    Math.exp(
      -features.reduce((sum, feature) => sum + (weights.get(feature) ?? 0), 0) / Math.sqrt(features.length),
    ));

// Lines of the corpus stand beside their like: parts are whole stretches of it, so that none is judged by its sisters.
const PARTS = 8;
const held: { text: string; out: number; p: number }[] = [];
for (let part = 0; part < PARTS; part++) {
  const inPart = (_: unknown, i: number) => Math.floor(i / 20) % PARTS === part;
  const weights = learn(corpus.filter((example, i) => !inPart(example, i)));
  for (const { text, out, features } of corpus.filter(inPart))
    held.push({ text, out, p: score(weights, features) });
}
const read = ({ text, p }: (typeof held)[number]) => {
  const whole = interpret(text);
  // What its exact words say needs no score.
  return /^(?:exact-word|keyword)/.test(whole.rule)
    ? whole
    : weighed(byRules(undisguised(plainLatin(text))), { leaves: p, because: [] });
};
for (const [name, out] of [
  ['wishes to leave', 1],
  ['ordinary', 0],
] as const) {
  const meanings = held.filter((one) => one.out === out).map((one) => read(one).meaning);
  const count = (meaning: string) => meanings.filter((one) => one === meaning).length;
  const [left, unclear] = [count('opt-out'), count('unclear')];
  console.log(
    `${name}: ${meanings.length}, read as leaving ${left}, unclear ${unclear}, ordinary ${meanings.length - left - unclear}`,
  );
}
console.log(`${corpus.length} replies, ${corpus.filter(({ out }) => out === 1).length} of them leave`);
if (process.argv.includes('--worst'))
  for (const one of held) {
    const { meaning, rule } = read(one);
    if ((meaning === 'opt-out') !== (one.out === 1))
      console.log(
        one.out === 1 ? 'leaves' : 'stays ',
        meaning.padEnd(8),
        one.p.toFixed(2),
        rule,
        '|',
        one.text,
      );
  }
const kept = [...learn(corpus)]
  .filter(([, weight]) => Math.abs(weight) >= SMALLEST)
  .sort(([a], [b]) => (a < b ? -1 : 1));
writeFileSync(
  'src/core/reply/weights.json',
  `${JSON.stringify(Object.fromEntries(kept.map(([feature, weight]) => [feature, Math.round(weight * 100) / 100])))}\n`,
);
console.log(`${kept.length} weights`);
