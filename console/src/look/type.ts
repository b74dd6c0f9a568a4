/** The type that everything is written in. */
export const type = '"Inter Variable"';
/** The type, and what stands in for it where it does not come. */
export const types = `${type}, system-ui, sans-serif`;

/** How long pictures wait for their type, in milliseconds: as long as browsers hide text whose type is on its way. */
const longest = 3_000;
let coming: Promise<unknown> | undefined;

/**
 * Done once the type is there, or does not come. Text of a page changes its type when that arrives; what is drawn on a canvas
 * stays in whatever it was drawn and measured in.
 */
export function bringType(): Promise<unknown> {
  coming ??= Promise.race([
    // A type that can't be had is no fault of a picture: it is drawn in what stands in for it, as the page is.
    document.fonts.load(`12px ${type}`).catch(() => undefined),
    new Promise((done) => setTimeout(done, longest)),
  ]);
  return coming;
}
