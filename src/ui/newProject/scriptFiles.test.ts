import { strFromU8, unzipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { bodyOf, filesOfDrop } from './scriptFiles.ts'

const file = (name: string, text: string, path = '') => Object.defineProperty(new File([text], name), 'webkitRelativePath', { value: path })
const contents = async (b: Blob | undefined) =>
  Object.fromEntries(Object.entries(unzipSync(new Uint8Array((await b?.arrayBuffer()) ?? new ArrayBuffer(0)))).map(([name, bytes]) => [name, strFromU8(bytes)]))

describe('what people choose', () => {
  it('is sent as it is where it is one file, whatever it is called', async () => {
    const only = file('dump', 'create table bay (id int);')
    expect(await bodyOf([only])).toEqual({ name: 'dump', body: only })
  })

  it('is a zip of the scripts where there are several; what is no script stays', async () => {
    const some = await bodyOf([file('b.sql', 'two'), file('a.sql.gz', 'one'), file('photo.png', 'no'), file('notes.md', 'no')])
    expect([some?.name, await contents(some?.body)]).toEqual(['2 scripts', { 'b.sql': 'two', 'a.sql.gz': 'one' }])
  })

  it('keeps the paths of a folder, and is called after it', async () => {
    const some = await bodyOf([file('a.sql', 'one', 'db/one/a.sql'), file('a.sql', 'two', 'db/two/a.sql')])
    expect([some?.name, await contents(some?.body)]).toEqual(['db (2 scripts)', { 'db/one/a.sql': 'one', 'db/two/a.sql': 'two' }])
  })

  it('is nothing where none of several is a script', async () => expect(await bodyOf([file('a.png', ''), file('b.pdf', '')])).toBeNull())
})

describe('what people drop', () => {
  interface Tree {
    readonly [name: string]: string | Tree
  }
  /** Entries of the File and Directory Entries API, which gives a folder in portions. */
  const entry = (name: string, of: string | Tree): unknown =>
    typeof of === 'string'
      ? { isFile: true, isDirectory: false, name, file: (done: (f: File) => void) => done(file(name, of)) }
      : {
          isFile: false,
          isDirectory: true,
          name,
          createReader: () => {
            const left = Object.entries(of).map(([n, x]) => entry(n, x))
            return { readEntries: (done: (list: unknown[]) => void) => done(left.splice(0, 2)) }
          },
        }
  it('is opened, folders in folders, however many portions they come in', async () => {
    const tree: Tree = { a: { 'one.sql': '1', 'two.sql': '2', 'three.sql': '3', deeper: { 'four.sql': '4' } }, 'five.sql': '5' }
    const items = [...Object.entries(tree).map(([n, x]) => ({ webkitGetAsEntry: () => entry(n, x) })), { webkitGetAsEntry: () => null }]
    const found = await filesOfDrop(items as unknown as DataTransferItemList)
    expect(found.map((f) => f.name).sort()).toEqual(['five.sql', 'four.sql', 'one.sql', 'three.sql', 'two.sql'])
  })
})
