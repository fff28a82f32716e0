import { describe, expect, it } from 'vitest';
import { readSource } from '../wording/reading';
import { saysHowToStop } from '../wording/rules/sender';
import { measure } from '../text/measure';
import { parseTemplate } from '../text/template';
import { parseTemplates, TEMPLATES_FORMAT } from './document';
import { SHIPPED_TEMPLATES } from './shipped';

const one = (part: object) => ({
  format: TEMPLATES_FORMAT,
  templates: [{ name: 'N', body: 'Hi.', ...part }],
});

describe('templates as JSON', () => {
  it('are read', () => expect(parseTemplates(one({ folder: 'F' }))).toMatchObject({ ok: true }));
  it.each<[string, unknown, string]>([
    ['another format', { format: 'steady-wren/form/1', templates: [] }, 'format:'],
    ['no list', { format: TEMPLATES_FORMAT }, 'document:'],
    ['no name', one({ name: '' }), 'templates.0.name:'],
    ['more than there is', one({ loop: 'N' }), 'templates.0:'],
    ['a body that is not closed', one({ body: 'Hi {$person' }), 'templates.0.body:'],
    ['a field nobody has', one({ body: 'Hi {$person.shoe :wren:field}' }), 'templates.0.body:'],
    ['nothing', null, 'document:'],
    ['a list', [], 'document:'],
  ])('are refused with %s', (_, data, where) => {
    const read = parseTemplates(data);
    expect(read.ok ? 'taken' : read.reason).toContain(where);
  });
  it('hold no templates themselves: what looks like one is words', () => {
    const read = parseTemplates(one({ body: '/N and /N' }));
    expect(read.ok && read.value.templates[0]!.body).toBe('/N and /N');
  });
});

describe('what ships', () => {
  it.each(SHIPPED_TEMPLATES.map((template) => [template.name, template]))(
    '%s says how to stop, in two parts at most',
    (_, { body }) => {
      const read = parseTemplate(body);
      const values = { 'business.name': 'Juniper Gap Observatory', 'program.name': 'Clear Sky Alerts' };
      expect(read.ok && measure(read.value.render(values).text)).toMatchObject({
        alphabet: expect.any(String),
      });
      expect(read.ok && measure(read.value.render(values).text).parts).toBeLessThanOrEqual(2);
      expect(saysHowToStop(readSource(body).text)).toBe(true);
    },
  );
});
