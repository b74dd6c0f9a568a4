import { expect, test } from 'vitest';
import { item, placeAt, shapeHelp, shapeOffers } from './shapeWords';

const leaf = (words: string[] = []) => ({ words, keys: [], item: null });
const key = (name: string, shape: object) => ({ name, doc: `What ${name} is. More.`, required: false, shape });
const shape = {
  ...leaf(),
  keys: [
    key('roles', {
      ...leaf(),
      item: {
        ...leaf(),
        keys: [
          key('reads', {
            ...leaf(),
            item: { ...leaf(['all']), keys: [key('where', leaf()), key('detail', leaf(['true', 'false']))] },
          }),
          key('may', { ...leaf(), item: leaf(['publish', 'own']) }),
        ],
      },
    }),
    key('checks', {
      ...leaf(),
      item: { ...leaf(), keys: [key('as', { ...leaf(), keys: [key('roles', leaf())] }), key('only', leaf())] },
    }),
  ],
} as never;

/** Where the bar stands in a text. */
function at(text: string): [string, string] {
  const before = text.slice(0, text.indexOf('|'));
  const line = before.lastIndexOf('\n') + 1;
  return [before.slice(0, line), before.slice(line)];
}

const access = `# Who sees what
roles:
  desk:
    reads:
      sailings: { where: "port in user.ports", | }
    may: [publish]
checks:
  - as: { roles: [desk] }
    only: "x"
`;

test('A place is found by columns, dashes, braces and brackets', () => {
  const path = (text: string) => placeAt(...at(text));
  expect(path(access)).toEqual({ path: ['roles', 'desk', 'reads', 'sailings'], isKey: true });
  expect(path('roles:\n  desk:\n    |')).toEqual({ path: ['roles', 'desk'], isKey: true });
  expect(path('roles:\n  desk:\n    reads:\n      sailings: all\n    |')).toEqual({
    path: ['roles', 'desk'],
    isKey: true,
  });
  expect(path('roles:\n  desk:\n    reads:\n      sailings: all\n|')).toEqual({ path: [], isKey: true });
  expect(path('roles:\n  desk:\n    may: [own, |')).toEqual({ path: ['roles', 'desk', 'may', item], isKey: false });
  expect(path('roles:\n  desk:\n    may:\n    - |')).toEqual({ path: ['roles', 'desk', 'may', item], isKey: true });
  expect(path('checks:\n  - as: { roles: [desk] }\n    |')).toEqual({ path: ['checks', item], isKey: true });
  expect(path('checks:\n- as: { roles: |')).toEqual({ path: ['checks', item, 'as', 'roles'], isKey: false });
  expect(path('checks:\n  - only: a\n  - |')).toEqual({ path: ['checks', item], isKey: true });
  expect(path('roles:\n  desk: { reads: { sailings: { detail: |')).toEqual({
    path: ['roles', 'desk', 'reads', 'sailings', 'detail'],
    isKey: false,
  });
  expect(path('roles:\n  desk:\n    reads: { sailings: "a: {b", |')).toEqual({
    path: ['roles', 'desk', 'reads'],
    isKey: true,
  });
});

test('Keys, words and names are offered where they can stand, and keys are told of', () => {
  const names = (path: unknown[]) => (path.at(-1) === 'reads' ? [{ label: 'tickets', detail: 'Tickets' }] : []);
  const offers = (text: string) => shapeOffers(shape, ...at(text), names).map((o) => o.label);
  expect(offers('|')).toEqual(['roles: ', 'checks: ']);
  expect(offers(access)).toEqual(['where: ', 'detail: ']);
  expect(offers('roles:\n  desk:\n    reads: { |')).toEqual(['tickets: ']);
  expect(offers('roles:\n  desk:\n    may: [own, |')).toEqual(['publish', 'own']);
  expect(offers('roles:\n  desk:\n    reads:\n      sailings: { detail: |')).toEqual(['true', 'false']);
  expect(offers('roles:\n  desk:\n    reads:\n      sailings: |')).toEqual(['all']);
  expect(offers('nothing:\n  |')).toEqual([]);
  expect(shapeHelp(shape, 'roles:\n  desk:\n', '    ', 'may')).toBe('What may is. More.');
  expect(shapeHelp(shape, 'roles:\n  desk:\n', '    ', 'none')).toBeUndefined();
});
