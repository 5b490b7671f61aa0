'use client'

import { Component, type ReactNode } from 'react'
import { Fault } from './Fault.tsx'

interface Props {
  readonly children: ReactNode
}

/** An error boundary for one pane: what fails in it takes nothing beside it along. */
export class Pane extends Component<Props, { readonly error: Error | null }> {
  override state: { readonly error: Error | null } = { error: null }

  static getDerivedStateFromError(error: Error): { readonly error: Error } {
    return { error }
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
