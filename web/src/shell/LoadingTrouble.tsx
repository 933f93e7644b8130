import { Component, type ReactNode } from "react";

import { Trouble } from "./states";

interface State {
  failed: boolean;
}

/** A page whose script could not be fetched, or that broke: said, with a way to try again. */
export class LoadingTrouble extends Component<{ children: ReactNode }, State> {
  override state: State = { failed: false };

  static getDerivedStateFromError(): State {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <Trouble
        error="This page could not be shown. What was not saved is kept in this browser."
        again={() => window.location.reload()}
      />
    );
  }
}
