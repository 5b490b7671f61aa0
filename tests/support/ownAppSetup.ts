// Runs before each file of browser tests: it has an application, a store and a worker of its own, whatever others did before it.
import { basename } from 'node:path'
import { afterAll, expect } from 'vitest'
import { ownApp } from './ownApp.ts'

const file = basename(expect.getState().testPath ?? 'browser', '.test.ts')
const app = await ownApp({ whole: true, log: file })
Object.assign(process.env, { ...app.env, NODE_ENV: process.env['NODE_ENV'], PELVOK_E2E_URL: app.url })
afterAll(() => app.end())
