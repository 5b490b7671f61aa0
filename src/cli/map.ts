// `pelvok map`: the picture of the review as an SVG file, for a wiki or for CI.
import type { Command } from 'commander'
import { foldAreas, type LedgerEntry } from '../core/model/index.ts'
import { nearestNames } from '../core/names/index.ts'
import type { Review } from '../core/review/index.ts'
import { areasOn, dayTheme, type MapWish, mapOf, nearestShape, type PictureSize, sceneSvg, wholeMap } from '../core/strata/index.ts'
import { badInput } from './exit.ts'
import type { ReadSource } from './source.ts'

interface MapOptions {
  readonly area?: string
  readonly focus?: string
  readonly views?: boolean
  readonly size?: string
  readonly out?: string
}

interface Tools<O> {
  readonly onSource: (name: string) => Command
  readonly read: (source: string, o: O) => Promise<ReadSource & { readonly entries: readonly LedgerEntry[]; readonly review: Review }>
  readonly output: (text: string, file?: string) => void
}

const usual: PictureSize = { width: 1500, height: 1200 }
const largest = 20_000

export function mapCommand<O>({ onSource, read, output }: Tools<O>): void {
  onSource('map')
    .option('--area <name>', 'one area, with what its tables are linked to')
    .option('--focus <table>', 'one table or class, with what it refers to and what refers to it')
    .option('--views', 'draw views one by one')
    .option('--size <WxH>', `of the picture in pixels; without it ${usual.width}x${usual.height}`)
    .option('--out <file>', 'write to a file instead of standard output')
    .description('the strata map as an SVG picture')
    .action(async (source: string, o: O & MapOptions) => {
      const size = o.size === undefined ? usual : sizeOf(o.size)
      if (o.area !== undefined && o.focus !== undefined) throw badInput('--area and --focus are two pictures', 'Give one of them.')
      const { catalog, entries, review, label } = await read(source, o)
      const draw = (wish: MapWish) => mapOf(catalog, review.findings, review.model, null, foldAreas(entries), wish, nearestShape(size.width, size.height))
      const views: MapWish['views'] = o.views ? 'all' : []
      const scene = draw({
        ...wholeMap,
        views,
        area: o.area === undefined ? null : areaCalled(o.area, areasOn(draw(wholeMap))),
        focus: o.focus === undefined ? null : { ids: [entityCalled(o.focus, review)], depth: 1 },
      })
      const of = o.focus ?? o.area
      output(sceneSvg(scene, dayTheme, of === undefined ? `Strata map of ${label}` : `Strata map of ${label}: ${of}`, size), o.out)
    })
}

function sizeOf(text: string): PictureSize {
  const [, width, height] = /^(\d{2,5})x(\d{2,5})$/i.exec(text.trim()) ?? []
  const size = { width: Number(width), height: Number(height) }
  if (!(size.width >= 100 && size.height >= 100 && size.width <= largest && size.height <= largest))
    throw badInput(`--size is "${text}"`, `Give a width and a height in pixels, each from 100 to ${largest}: --size 1500x1200.`)
  return size
}

const meant = (wanted: string, all: readonly string[]) => {
  const near = nearestNames(wanted, all)
  return near.length > 0 ? `Did you mean ${near.slice(0, 3).join(', ')}?` : `There are ${all.slice(0, 8).join(', ')}${all.length > 8 ? ' and others' : ''}.`
}

function areaCalled(wanted: string, areas: readonly string[]): string {
  const found = areas.find((a) => a === wanted) ?? areas.find((a) => a.toLowerCase() === wanted.toLowerCase())
  if (found === undefined) throw badInput(`there is no area "${wanted}"`, meant(wanted, areas))
  return found
}

/** By address, by the table's name where only one has it, or by class name. */
function entityCalled(wanted: string, { model }: Review): string {
  const { entities } = model
  const named = entities.filter((e) => e.relation.name === wanted)
  const found = entities.find((e) => e.id === wanted) ?? entities.find((e) => e.name === wanted) ?? (named.length === 1 ? named[0] : undefined)
  if (!found && named.length > 1) throw badInput(`"${wanted}" is in ${named.length} schemas`, `Say which: ${named.map((e) => e.id).join(', ')}.`)
  if (!found) throw badInput(`there is no table or class "${wanted}"`, meant(wanted, [...entities.map((e) => e.id as string), ...entities.map((e) => e.name)]))
  return found.id
}
