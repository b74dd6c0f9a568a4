import { createTheme, type MantineColorsTuple } from '@mantine/core';

const accent: MantineColorsTuple = [
  '#E3EFEE',
  '#CBE2E0',
  '#A3CBC9',
  '#78B3B0',
  '#4F9B98',
  '#2D8583',
  '#0F6E6E',
  '#0B5F5F',
  '#084F4F',
  '#053F3F',
];

export const theme = createTheme({
  primaryColor: 'accent',
  primaryShade: 6,
  colors: { accent },
  fontFamily: '"Inter Variable", system-ui, sans-serif',
  fontSizes: { xs: '12px', sm: '13px', md: '13px', lg: '15px', xl: '20px' },
  defaultRadius: 6,
  black: '#14212B',
  respectReducedMotion: true,
  cursorType: 'pointer',
});
