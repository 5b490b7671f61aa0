'use client'

import { Component, type ReactNode } from 'react'
import { Fault } from './Fault.tsx'

interface Props {
  readonly children: ReactNode
  /** What it shows, where that changes under it: another thing is tried anew. */
  readonly of?: string | null
}

interface State {
  readonly error: Error | null
  readonly of: string | null
}

/** An error boundary for one pane: what fails in it takes nothing beside it along. */
export class Pane extends Component<Props, State> {
  override state: State = { error: null, of: null }

  static getDerivedStateFromError(error: Error): Pick<State, 'error'> {
    return { error }
  }

  static getDerivedStateFromProps({ of = null }: Props, state: State): State | null {
    return of === state.of ? null : { error: null, of }
  }

  override render(): ReactNode {
    const { error } = this.state
    if (!error) return this.props.children
    return (
      <div className="min-h-0 overflow-auto">
        <Fault message={error.message} retry={() => this.setState({ error: null })} />
      </div>
    )
  }
}
