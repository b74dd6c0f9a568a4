interface Word {
  name: string;
}

/** The function whose brackets a place of a formula is in; undefined outside of all that are known. Texts in quotation marks do not count. */
export function callAt<W extends Word>(text: string, at: number, functions: W[]): W | undefined {
  const open: string[] = [];
  let isQuoted = false;
  for (let i = 0; i < at; i++) {
    const c = text[i];
    if (c === "'") isQuoted = !isQuoted;
    else if (isQuoted) continue;
    else if (c === '(') open.push(/[A-Za-z_][A-Za-z0-9_]*$/.exec(text.slice(0, i).trimEnd())?.[0] ?? '');
    else if (c === ')') open.pop();
  }
  for (const name of open.reverse()) {
    const found = functions.find((f) => f.name === name.toLowerCase());
    if (found) return found;
  }
  return undefined;
}
