import { type CSSProperties, useMemo } from 'react';
import { hasPick, isPicked, isRestPicked, toggle, toggleRest } from '../../model/selections';
import type { PictureProps } from '../PictureProps';
import { type Card, cardsOf } from './cards';
import classes from './cards.module.css';

/** Figures, each on a card; one of a member can be picked. */
export default function CardsPicture({ tile, result, selection, onSelect }: PictureProps) {
  const cards = useMemo(() => cardsOf(result.table), [result.table]);
  const pickable = tile.pick !== 'none' && cards[0]?.member !== undefined;
  const members = () => cards.flatMap((c) => (c.member && !c.isRest ? [c.member] : []));
  const pick = ({ member, isRest }: Card) =>
    onSelect(isRest ? toggleRest(selection, members(), tile.pick) : toggle(selection, member ?? [], tile.pick));
  // A unit is half as large as its figure.
  const signs = Math.max(4, ...cards.map((c) => c.figure.length + (c.unit ? 0.5 + c.unit.length / 2 : 0)));
  return (
    <ul className={classes.cards} aria-label={tile.title} style={{ '--signs': signs } as CSSProperties}>
      {cards.map((card) => {
        const isChosen = card.isRest ? isRestPicked(selection) : isPicked(selection, card.member ?? []);
        const inside = (
          <>
            <span className={classes.name}>{card.name}</span>
            <span className={classes.figure} data-figure>
              {card.figure}
              {card.unit && <small> {card.unit}</small>}
            </span>
            {card.below.map((b) => (
              <span key={b.name} className={classes.below}>
                {b.name} <b>{b.text}</b>
              </span>
            ))}
          </>
        );
        return (
          <li
            key={card.isRest ? 'rest' : JSON.stringify(card.member ?? card.name)}
            data-faint={pickable && hasPick(selection) && !isChosen}
          >
            {pickable ? (
              <button type="button" aria-pressed={hasPick(selection) && isChosen} onClick={() => pick(card)}>
                {inside}
              </button>
            ) : (
              <div>{inside}</div>
            )}
          </li>
        );
      })}
    </ul>
  );
}
