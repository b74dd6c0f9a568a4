import { Button } from '@mantine/core';
import { useState } from 'react';
import { asText } from '../model/asText';
import { pictureOf } from '../pictures';
import classes from './dashboard.module.css';
import { usePage } from './usePage';

interface Props {
  /** The tile that is meant; the open tab if left out. */
  tile?: string;
  /** Makes a picture of it. */
  picture: () => Promise<Blob>;
}

/** Ways to put what is seen into a message: its address, its figures, or a picture of it. */
export default function Copying({ tile, picture }: Props) {
  const shown = usePage((s) => s.shown);
  const tiles = usePage((s) => s.tiles);
  const title = usePage((s) => s.page.title);
  const [told, setTold] = useState<string>();
  const link = `${window.location.origin}${window.location.pathname}${window.location.search}`;

  function text() {
    const meant = shown.filter((t) =>
      tile === undefined ? t.dataset !== null && !pictureOf(t).isControl : t.name === tile,
    );
    const parts = meant.map((t) => asText(t, tiles[t.name]?.result));
    return [tile === undefined ? title : undefined, ...parts, link].filter(Boolean).join('\n\n');
  }

  /** Browsers let nobody write to the clipboard where the page came without TLS; that is told. */
  function copy(what: string, write: () => Promise<void>) {
    setTold('Copying …');
    (navigator.clipboard
      ? write()
      : Promise.reject(new Error('This browser copies only from pages that come by https.'))
    ).then(
      () => setTold(`${what} is in the clipboard.`),
      (error: unknown) => setTold(error instanceof Error ? error.message : String(error)),
    );
  }

  return (
    <div className={classes.copying} role="group" aria-label="Copy it into a message">
      <span className="quiet">Or copy</span>
      <Button
        size="compact-sm"
        variant="default"
        title="A state, and no right: who opens it sees their own rows"
        onClick={() => copy('The link', () => navigator.clipboard.writeText(link))}
      >
        the link
      </Button>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => copy('The text', () => navigator.clipboard.writeText(text()))}
      >
        its figures as text
      </Button>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() =>
          copy('The picture', () => navigator.clipboard.write([new ClipboardItem({ 'image/png': picture() })]))
        }
      >
        a picture
      </Button>
      <span role="status" className="quiet">
        {told}
      </span>
    </div>
  );
}
