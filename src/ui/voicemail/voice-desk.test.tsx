import '@/ui/testing/router';
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { VoiceDesk } from './voice-desk';

/** The worker that makes recordings ready, to be answered by the test. */
class SoundWorker {
  static asked: { do: string; channels: Float32Array[] }[] = [];
  static last: SoundWorker;
  onmessage = (_: { data: unknown }) => {};
  onerror = () => {};
  constructor() {
    SoundWorker.last = this;
  }
  postMessage(asked: (typeof SoundWorker.asked)[number]) {
    SoundWorker.asked.push(asked);
  }
  terminate() {}
}

const READY = {
  ...{ ok: true, seconds: 20, shape: [{ low: -1, high: 1 }], wave: new Uint8Array(44) },
  phone: new Uint8Array(44),
  facts: {
    ...{ seconds: 18, loudnessBefore: -24, loudness: -16, cut: 2 },
    ...{ clipped: 0, humBelow: 60, outOfPhase: false },
  },
};
const answer = () => act(() => SoundWorker.last.onmessage({ data: READY }));

/** A microphone whose plug the test can pull. */
class Microphone {
  onended: (() => void) | null = null;
  stop() {}
}
let microphone: Microphone;

class Recorder {
  state = 'inactive';
  mimeType = 'audio/webm';
  ondataavailable = (_: { data: Blob }) => {};
  onstop = () => {};
  start() {
    this.state = 'recording';
  }
  stop() {
    this.state = 'inactive';
    this.ondataavailable({ data: new Blob(['heard']) });
    this.onstop();
  }
}

const allow = (answered: () => Promise<unknown>) =>
  vi.stubGlobal('navigator', { ...navigator, mediaDevices: { getUserMedia: answered } });

/** How long files say they take, by their names. */
let minutes: Record<string, number>;
/** Files that take their time to be unpacked. */
let held: Map<string, () => void>;

beforeEach(() => {
  SoundWorker.asked = [];
  microphone = new Microphone();
  minutes = {};
  held = new Map();
  let named = '';
  vi.stubGlobal('Worker', SoundWorker);
  vi.stubGlobal('MediaRecorder', Recorder);
  vi.stubGlobal(
    'AudioContext',
    class {
      state = 'running';
      close = async () => {};
      createAnalyser = () => ({ fftSize: 32, getFloatTimeDomainData: () => {} });
      createMediaStreamSource = () => ({ connect: () => {} });
    },
  );
  vi.stubGlobal(
    'OfflineAudioContext',
    class {
      async decodeAudioData(bytes: ArrayBuffer) {
        const words = new TextDecoder().decode(bytes);
        if (words === 'damaged') throw new DOMException('', 'EncodingError');
        if (words === 'slow') await new Promise<void>((resolve) => held.set(words, resolve));
        return { numberOfChannels: 1, getChannelData: () => new Float32Array(words.length) };
      }
    },
  );
  vi.stubGlobal(
    'Audio',
    class {
      duration = 0;
      onloadedmetadata = () => {};
      set src(_: string) {
        this.duration = (minutes[named] ?? 0.3) * 60;
        queueMicrotask(() => this.onloadedmetadata());
      }
    },
  );
  URL.createObjectURL = (file) => ((named = (file as File).name ?? ''), 'blob:');
  URL.revokeObjectURL = () => {};
});

const show = () =>
  render(
    <VoiceDesk
      before={null}
      context={{ callers: ['Juniper Gap Racquets'], numbers: ['+13035550100'], country: 'US' }}
    />,
  );
const named = (name: string, words: string, type = 'audio/mpeg') => new File([words], name, { type });
const choose = (file: File) =>
  act(async () => {
    fireEvent.change(screen.getByLabelText('A file of a recording'), { target: { files: [file] } });
  });
const record = async () => {
  await userEvent.click(screen.getByRole('button', { name: 'Record it' }));
  await screen.findByRole('button', { name: 'Stop' });
};

describe('A file', () => {
  it('that is a film, too large, empty or damaged is refused by its name, and never unpacked where that can be known', async () => {
    show();
    await choose(named('clip.mp4', 'moving', 'video/mp4'));
    expect(screen.getByText(/“clip.mp4” is a film\. Save its sound as MP3/)).toBeTruthy();
    const large = named('tape.wav', 'long');
    Object.defineProperty(large, 'size', { value: 2 ** 31 });
    await choose(large);
    expect(screen.getByText(/“tape.wav” has 2147 MB\..*cut it first/)).toBeTruthy();
    await choose(named('none.ogg', ''));
    expect(screen.getByText('“none.ogg” is empty.')).toBeTruthy();
    minutes['hour.mp3'] = 60;
    await choose(named('hour.mp3', 'nothing'));
    expect(await screen.findByText(/“hour.mp3” takes 60 minutes\. Cut it/)).toBeTruthy();
    await choose(named('head.flac', 'damaged'));
    expect(await screen.findByText(/the file is damaged/)).toBeTruthy();
    expect(SoundWorker.asked).toEqual([]);
  });

  it('with a script for a name is shown as words', async () => {
    show();
    await choose(named('<img src=x onerror=alert(1)>', 'moving', 'video/mp4'));
    expect(screen.getByText(/“<img src=x onerror=alert\(1\)>” is a film/)).toBeTruthy();
    expect(document.querySelector('img')).toBeNull();
  });

  it('chosen after another counts, though the other takes longer to be unpacked', async () => {
    show();
    await choose(named('first.wav', 'slow'));
    await waitFor(() => expect(held.has('slow')).toBe(true));
    await choose(named('second.wav', 'at once'));
    await waitFor(() => expect(SoundWorker.asked).toHaveLength(1));
    await act(async () => held.get('slow')!());
    expect(SoundWorker.asked.map(({ channels }) => channels[0]!.length)).toEqual(['at once'.length]);
    answer();
    expect(screen.getByText('As it is kept, 18.0 seconds')).toBeTruthy();
  });
});

describe('The microphone', () => {
  it.each([
    ['NotAllowedError', /Allow it beside the address, or drop a file/],
    ['NotFoundError', /There is no microphone/],
    ['NotReadableError', /Another program has the microphone/],
  ])('that answers %s says what can be done', async (name, words) => {
    allow(() => Promise.reject(new DOMException('', name)));
    show();
    await userEvent.click(screen.getByRole('button', { name: 'Record it' }));
    expect(await screen.findByText(words)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Record it' })).toBeTruthy();
  });

  it('that is taken away leaves what it heard, and that stays said once it is ready', async () => {
    allow(async () => ({ getTracks: () => [microphone] }));
    show();
    await record();
    await act(async () => microphone.onended!());
    await waitFor(() => expect(SoundWorker.asked).toHaveLength(1));
    answer();
    expect(screen.getByText('As it is kept, 18.0 seconds')).toBeTruthy();
    expect(screen.getByText(/The microphone was taken away/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Record it again' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Stop' }));
    await waitFor(() => expect(SoundWorker.asked).toHaveLength(2));
    answer();
    expect(screen.queryByText(/taken away/)).toBeNull();
  });
});
