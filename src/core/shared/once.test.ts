import { describe, expect, it } from 'vitest';
import { once, onceLoaded } from './once';

describe('what is made once', () => {
  it('is not made before it is asked for, and once however often it is', () => {
    let made = 0;
    const thing = once(() => ({ number: ++made }));
    expect(made).toBe(0);
    expect(thing()).toBe(thing());
    expect(made).toBe(1);
  });

  it('may be nothing at all', () => {
    let asked = 0;
    const nothing = once(() => void asked++);
    nothing();
    nothing();
    expect(asked).toBe(1);
  });

  it('is tried again after a failure', () => {
    let tries = 0;
    const thing = once(() => {
      if (++tries === 1) throw new Error('not yet');
      return tries;
    });
    expect(thing).toThrow('not yet');
    expect(thing()).toBe(2);
  });
});

describe('what is loaded once', () => {
  it('is loaded by whoever asks first, for all who ask meanwhile and after', async () => {
    let loads = 0;
    const thing = onceLoaded(async () => ({ number: await Promise.resolve(++loads) }));
    const [one, other] = await Promise.all([thing(), thing()]);
    expect(one).toBe(other);
    expect(await thing()).toBe(one);
    expect(loads).toBe(1);
  });

  it('is tried again after a failure', async () => {
    let tries = 0;
    const thing = onceLoaded(() =>
      ++tries === 1 ? Promise.reject(new Error('no file')) : Promise.resolve(tries),
    );
    await expect(thing()).rejects.toThrow('no file');
    expect(await thing()).toBe(2);
  });
});
