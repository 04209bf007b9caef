import { Component, type ReactNode } from 'react'
import { wordsOf } from '../../core/model'

interface Props {
  readonly name: string
  readonly children: ReactNode
}

/** A part of the page by itself: when it fails it says so in its place, and the others go on. */
export class Region extends Component<Props, { readonly failure: string | undefined }> {
  override state = { failure: undefined }

  static getDerivedStateFromError(error: unknown): { failure: string } {
    return { failure: wordsOf(error) }
  }

  override render(): ReactNode {
    const { failure } = this.state
    if (failure === undefined) return this.props.children
    return (
      <div role="alert" className="h-full overflow-auto bg-base-100 p-4">
        <p className="font-semibold">■ The {this.props.name} failed.</p>
        <p className="mt-1 mb-3 text-quiet">{failure}. The facts are safe, and everything else goes on.</p>
        <button type="button" className="btn btn-sm" onClick={() => this.setState({ failure: undefined })}>
          Try again
        </button>
      </div>
    )
  }
}
