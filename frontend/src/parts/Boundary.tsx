import Button from "@mui/material/Button";
import { Component, type ReactNode } from "react";

/** Keeps a view's failure to that view: says what happened, and lets the rest go on. */
export class Boundary extends Component<{ children: ReactNode }, { error: Error | null }> {
  state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <div className="column" role="alert">
        <h2>This view stopped: {error.message}</h2>
        <p>What you saved is safe, and edits that were not saved wait in this browser.</p>
        <Button variant="outlined" onClick={() => this.setState({ error: null })}>
          Show it again
        </Button>
      </div>
    );
  }
}
