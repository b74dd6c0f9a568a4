import { Component, type ReactNode } from 'react';
import type { PictureKind } from './kind';
import type { PictureProps } from './PictureProps';

/** A picture once what draws it is there; in its place a message if that could not be brought. */
export function Shown({ kind, ...given }: PictureProps & { kind: PictureKind }) {
  const { Picture } = kind;
  return (
    <Boundary>
      <Picture {...given} />
    </Boundary>
  );
}

class Boundary extends Component<{ children: ReactNode }, { fault?: Error }> {
  override state: { fault?: Error } = {};

  static getDerivedStateFromError(fault: Error) {
    return { fault };
  }

  override render() {
    if (!this.state.fault) return this.props.children;
    return (
      <p role="alert" style={{ padding: 8 }}>
        This picture could not be drawn: {this.state.fault.message} Load the page anew.
      </p>
    );
  }
}
