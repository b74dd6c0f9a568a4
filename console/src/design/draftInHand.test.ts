import { describe, expect, test, vi } from 'vitest';
import { Refused, type Schemas } from '../api/client';
import { type Draft, DraftInHand, type Problem, type SaveState } from './draftInHand';

/** A draft as a service keeps it: each change is a step, and must say which it comes after. */
class Service {
  draft = { text: 'a: 0\nb: 0\nc: 0\nd: 0\ne: 0\n', step: 1 } as Draft;
  isDown = false;

  private async trip() {
    for (let turns = Math.floor(Math.random() * 4); turns > 0; turns--) await Promise.resolve();
    if (this.isDown) throw new Error('The service is away.');
  }

  step(text: string): Draft {
    this.draft = { ...this.draft, text, step: this.draft.step + 1 };
    return this.draft;
  }

  kept = {
    read: async () => {
      await this.trip();
      return this.draft;
    },
    save: async ({ text, after }: Schemas['DraftText']) => {
      await this.trip();
      if (after !== this.draft.step) throw new Refused(409, 'draft-moved', 'It moved.');
      const next = this.step(text ?? '');
      await this.trip();
      return next;
    },
  };
}

const put = (text: string, key: string, value: number) =>
  text.replace(new RegExp(`^${key}: \\d+`, 'm'), `${key}: ${value}`);

function windowOn(service: Service) {
  const seen = { state: 'saved' as SaveState, problem: undefined as Problem | undefined, editor: service.draft.text };
  const hand = new DraftInHand(service.draft, service.kept, {
    draft: () => undefined,
    state: (state) => {
      seen.state = state;
    },
    problem: (problem) => {
      seen.problem = problem;
    },
    write: (text) => {
      seen.editor = text;
    },
  });
  const type = (key: string, value: number) => {
    seen.editor = put(seen.editor, key, value);
    hand.change(seen.editor);
  };
  return { hand, seen, type };
}

describe('a draft in hand', () => {
  test('loses nothing that is typed at other lines, whoever changes it meanwhile and whenever', async () => {
    for (let round = 0; round < 300; round++) {
      const service = new Service();
      const { hand, seen, type } = windowOn(service);
      const last = { a: 0, c: 0, e: 0 };
      const pending: Promise<unknown>[] = [];
      for (let n = 1; n < 12; n++) {
        const dice = Math.random();
        if (dice < 0.4) {
          last.a = n;
          type('a', n);
        } else if (dice < 0.6) {
          // Another window.
          last.c = n;
          service.step(put(service.draft.text, 'c', n));
        } else if (dice < 0.75) {
          last.e = n;
          pending.push(
            hand.byHand(async (now) => {
              if (now.step !== service.draft.step) return service.step(put(service.draft.text, 'e', n));
              return service.step(put(now.text, 'e', n));
            }),
          );
        } else pending.push(hand.save());
        if (Math.random() < 0.3) await Promise.all(pending.splice(0));
      }
      await Promise.all(pending);
      await hand.save();
      expect(seen.problem).toBeUndefined();
      expect(hand.isSaved()).toBe(true);
      expect(seen.state).toBe('saved');
      const stored = (key: string) => Number(new RegExp(`^${key}: (\\d+)`, 'm').exec(service.draft.text)?.[1]);
      expect({ a: stored('a'), c: stored('c'), e: stored('e') }).toEqual(last);
      hand.leave();
    }
  });

  test('keeps what is typed where both are at the same line, and says that it is behind', async () => {
    const service = new Service();
    const { hand, seen, type } = windowOn(service);
    service.step(put(service.draft.text, 'a', 7));
    type('a', 3);
    await hand.save();
    expect(seen.problem).toMatchObject({ isBehind: true });
    expect(hand.text).toContain('a: 3');
    expect(service.draft.text).toContain('a: 7');
    await hand.reload();
    expect(hand.text).toContain('a: 7');
    expect(seen.problem).toBeUndefined();
    hand.leave();
  });

  test('keeps what is typed while the service is away, and does nothing by hand before that is stored', async () => {
    vi.useFakeTimers();
    const service = new Service();
    const { hand, seen, type } = windowOn(service);
    service.isDown = true;
    type('b', 5);
    await hand.save();
    expect(seen).toMatchObject({ state: 'waiting', problem: { isBehind: false } });
    expect(await hand.byHand(async () => service.step('nothing of it'))).toBe(false);
    service.isDown = false;
    await hand.save();
    expect(service.draft.text).toContain('b: 5');
    expect(seen.state).toBe('saved');
    hand.leave();
    vi.useRealTimers();
  });
});
