/** How wide a letter is on average, in sizes of type. */
export const letter = 0.56;

/**
 * A text in lines that fit a room, broken between words; what has no room is cut with an ellipsis, and what has none at all is empty.
 * @param width In pixels.
 * @param most How many lines fit.
 */
export function wrapped(text: string, width: number, most: number, size: number): string {
  const letters = Math.floor(width / (letter * size));
  if (most < 1 || letters < 3) return '';
  const cut = (line: string) => (line.length > letters ? `${line.slice(0, letters - 1).trimEnd()}…` : line);
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines[lines.length - 1];
    if (last !== undefined && (`${last} ${word}`.length <= letters || lines.length === most))
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.map(cut).join('\n');
}
