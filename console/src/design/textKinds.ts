import type { DraftKind } from './draftInHand';

/** The kinds that are worked on as text alone, and what each is. */
export const textKinds: Partial<Record<DraftKind, { title: string; about: string }>> = {
  access: { title: 'Access', about: 'Which role reads which rows, and what it may do.' },
  workspace: { title: 'The workspace', about: 'Its title, time zone, money and look.' },
  sources: { title: 'Sources', about: 'Where data are, without secrets.' },
  catalogues: { title: 'Catalogues', about: 'Tiles that dashboards and viewers place.' },
  reports: { title: 'Reports', about: 'What is made of a dashboard for taking along, and in which state.' },
  openings: { title: 'Opening views', about: 'How a dashboard opens for a role.' },
};
