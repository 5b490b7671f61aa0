// Names within one class, and those of classes: a clash that rulings made is resolved by the next free number and told.
import { reservedMember } from '../../names/index.ts'
import type { EntityId, ModelDiagnostic } from '../entityModel.ts'

export class Scope {
  readonly #taken: Set<string>
  #problems: ModelDiagnostic[] = []

  /** `of`: the class; "" for the names of classes. With `from` what is taken there is taken here, and it stays as it is. */
  constructor(
    private readonly of: EntityId,
    from: Scope | null = null,
  ) {
    this.#taken = new Set(from === null ? [] : from.#taken)
  }

  claim(wanted: string): string {
    let got = wanted
    // A table may be called what no member can be: an answer that was not the proposal takes its name from there.
    for (let n = 2; this.#taken.has(got.toLowerCase()) || (this.of !== '' && reservedMember(got)); n += 1) got = `${wanted}${n}`
    this.#taken.add(got.toLowerCase())
    if (got !== wanted) this.#problems.push({ code: 'name-taken', entity: this.of, wanted, got })
    return got
  }

  /** Of all claims so far. */
  get problems(): readonly ModelDiagnostic[] {
    return this.#problems
  }

  /** Of the claims since it was asked last. */
  told(): readonly ModelDiagnostic[] {
    const told = this.#problems
    this.#problems = []
    return told
  }
}
