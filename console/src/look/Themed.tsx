import { MantineProvider } from '@mantine/core';
import { type ReactNode, useMemo } from 'react';
import { schemeOf, useTokens } from './look';
import { themeOf, variables } from './theme';

/** All of the console, in the look that is chosen. */
export function Themed({ children }: { children: ReactNode }) {
  const tokens = useTokens();
  const theme = useMemo(() => themeOf(tokens), [tokens]);
  return (
    <MantineProvider theme={theme} cssVariablesResolver={variables} forceColorScheme={schemeOf(tokens)}>
      {children}
    </MantineProvider>
  );
}
