import { type MouseEvent, useMemo } from 'react';
import { label } from '../../model/labels';
import { useGo } from '../../route';
import classes from '../../tiles/tiles.module.css';
import type { PictureProps } from '../PictureProps';
import { commonMarkToHtml } from './commonMark';

/** Marks of CommonMark in a figure or a member are no marks. */
const plain = (text: string) => text.replace(/[\\`*_{}[\]()#+\-.!|<>&~]/g, '\\$&');

/** Words in CommonMark, with figures and with what is picked in the place of names in braces. */
export default function TextPicture({ tile, result }: PictureProps) {
  const html = useMemo(() => {
    const figures = new Map(
      result.table.columns.map((c, i) => {
        const value = result.table.values[i]?.[0];
        return [c.name, value === null || value === undefined ? '–' : label(value as string | number, c)];
      }),
    );
    const text = (tile.text ?? '').replace(/\{([A-Za-z0-9_-]*)\}/g, (whole, name: string) => {
      if (tile.dataset === null) return whole;
      const title = tile.fieldsInText?.[name];
      if (title === undefined) return plain(figures.get(name) ?? '–');
      const picked = result.filters?.applied.filter((f) => f.fieldNames.includes(name)).flatMap((f) => f.members) ?? [];
      return plain(picked.length > 0 ? inWords(picked) : `every ${title.toLowerCase()}`);
    });
    return commonMarkToHtml(text);
  }, [tile, result]);
  const go = useGo();

  /** A link to a tab or another dashboard is followed within the page, one to elsewhere in a window of its own. */
  function follow(event: MouseEvent) {
    const link = event.target instanceof Element ? event.target.closest('a') : null;
    if (!link || event.ctrlKey || event.metaKey || event.shiftKey || event.button !== 0) return;
    event.preventDefault();
    const to = new URL(link.href);
    if (to.origin === window.location.origin) go(`${to.pathname}${to.search}`);
    else window.open(to.href, '_blank', 'noopener,noreferrer');
  }

  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: only links are clicked here, which the keyboard follows by a click
    // biome-ignore lint/a11y/noStaticElementInteractions: as above
    <div
      className={classes.text}
      onClick={follow}
      // biome-ignore lint/security/noDangerouslySetInnerHtml: made of CommonMark without HTML, and sanitised
      dangerouslySetInnerHTML={{ __html: html }}
    />
  );
}

const inWords = (members: string[]) =>
  members.length > 3
    ? `${members.slice(0, 3).join(', ')} and ${members.length - 3} more`
    : members.length > 1
      ? `${members.slice(0, -1).join(', ')} and ${members.at(-1)}`
      : (members[0] ?? '');
