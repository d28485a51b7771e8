import { Component, type ReactNode } from 'react';
import { Button } from './button.tsx';

interface Props {
  /** What stands inside, for the message: “the paper”. */
  readonly what: string;
  readonly children: ReactNode;
}

/** What goes wrong inside stays inside: the rest of the page goes on, and this part can be tried again. */
export class Guard extends Component<Props, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError(): { failed: boolean } {
    return { failed: true };
  }

  override componentDidCatch(error: unknown): void {
    console.error(error);
  }

  override render(): ReactNode {
    if (!this.state.failed) return this.props.children;
    return (
      <div role="alert" className="m-auto p-4 text-center text-sm">
        <p>Something went wrong with {this.props.what}. Everything else works, and nothing you wrote is lost.</p>
        <Button className="mt-2" onClick={() => this.setState({ failed: false })}>
          Try it again
        </Button>
      </div>
    );
  }
}
