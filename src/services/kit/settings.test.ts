import { afterEach, describe, expect, it, vi } from 'vitest';
import { benchUrl, carrierSettings, usesRealCarrier } from './settings';

afterEach(() => vi.unstubAllEnvs());

describe('settings', () => {
  it('lead to the test bench on this machine unless a carrier is named', () => {
    for (const name of ['WREN_SMPP_HOST', 'WREN_SMPP_PORT', 'WREN_BENCH_PORT', 'WREN_SMPP_WINDOW'])
      vi.stubEnv(name, '');
    expect(usesRealCarrier()).toBe(false);
    expect(benchUrl()).toBe('http://127.0.0.1:4401');
    expect(carrierSettings()).toMatchObject({ host: '127.0.0.1', port: 4402, window: 200 });
  });

  it('name a real carrier, and then there is no bench', () => {
    vi.stubEnv('WREN_SMPP_HOST', 'smsc.carrier.example');
    vi.stubEnv('WREN_SMPP_PORT', '');
    vi.stubEnv('WREN_SMPP_SYSTEM_ID', 'observatory');
    vi.stubEnv('WREN_SMPP_WINDOW', '10');
    expect(benchUrl()).toBeNull();
    expect(carrierSettings()).toMatchObject({
      host: 'smsc.carrier.example',
      port: 2775,
      systemId: 'observatory',
      window: 10,
    });
  });

  it.each([
    ['WREN_SMPP_PORT', 'many'],
    ['WREN_SMPP_PORT', '70000'],
    ['WREN_SMPP_WINDOW', '0'],
    ['WREN_SMPP_WINDOW', '1.5'],
    ['WREN_SMPP_TIMEOUT_MS', '-1'],
  ])('%s=%s is refused with its name and what would be right', (name, value) => {
    vi.stubEnv(name, value);
    expect(() => carrierSettings()).toThrow(
      new RegExp(`^${name} must be a whole number from 1 to \\d+, not "`),
    );
  });
});
