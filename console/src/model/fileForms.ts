/** The forms that a file can have, each with what it is for. */
export const fileForms = [
  { value: 'pdf', label: 'PDF', about: 'Pages to print or send on; its text can be searched.' },
  { value: 'xlsx', label: 'Spreadsheet', about: 'A sheet for each tile, with numbers and dates to calculate with.' },
  { value: 'pptx', label: 'Slides', about: 'A slide for each tile, with its title as text.' },
  { value: 'png', label: 'Picture (PNG)', about: 'As it looks here, in light colours.' },
  { value: 'svg', label: 'Picture (SVG)', about: 'Lines and letters that stay sharp at any size; of one tile.' },
  {
    value: 'html',
    label: 'Page by itself (HTML)',
    about: 'Opens in any browser, without a network; tables can be sorted.',
  },
  {
    value: 'csv',
    label: 'Delimited text (CSV)',
    about: 'Raw values for other programs; of several tiles one file each.',
  },
  { value: 'json', label: 'JSON', about: 'Figures with all that is known of them, for programs.' },
];

/** How much of it a file can have. */
export const fileDetails = [
  { value: 'short', label: 'Short: figures, pictures, the first lines of tables' },
  { value: 'usual', label: 'As much as the dashboard shows' },
  { value: 'long', label: 'Long: with the figures behind pictures and what they mean' },
];
