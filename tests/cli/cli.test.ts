import { spawnSync } from 'node:child_process'
import { createRequire } from 'node:module'
import { XMLParser } from 'fast-xml-parser'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it, vi } from 'vitest'
import { progress } from '../../src/cli/drawing'
import { main } from '../../src/cli/main'
import { registry } from '../../src/core/notations'

const DEMO = 'demo/marram-sound-ferries.skivel.json'
const folder = mkdtempSync(join(tmpdir(), 'skivel-cli-'))

async function run(...args: string[]) {
  const out: string[] = []
  const err: string[] = []
  const code = await main(
    args,
    (text) => out.push(text),
    (text) => err.push(text),
  )
  return { code, out: out.join(''), err: err.join('') }
}
const file = (name: string, content: unknown): string => {
  const path = join(folder, name)
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content))
  return path
}
const WORKSPACE = { format: 'skivel-workspace', version: 1, name: 'T' }

describe('facts that once stopped a command', () => {
  const named = (name: string) => join('tests', 'cases', `${name}.skivel.json`)
  it.each(['loop2', 'far', 'noway', 'oom'])('check %s', async (name) =>
    expect((await run('check', named(name))).code).toBe(1),
  )
  it.each(['loop2', 'far', 'noway', 'oom', 'blown', 'p130', 'pool'])('draw %s', async (name) => {
    const out = join(folder, `${name}.svg`)
    const { code, out: said } = await run(
      'draw',
      named(name),
      '--out',
      out,
      '--picture',
      name === 'far' ? 'schedule/bars' : 'process/lanes',
    )
    expect([code, said]).toEqual([0, expect.stringContaining('items')])
  })
  it.each([
    ['loop2', 'process/total'],
    ['far', 'schedule/dates'],
  ])('numbers %s', async (name, sheet) => expect((await run('numbers', named(name), '--sheet', sheet)).code).toBe(0))
  it('ends with 3 where something fails inside, and says that it is no fault of the facts', async () => {
    const fails = (): never => {
      throw new RangeError('Maximum call stack size exceeded')
    }
    const rule = registry.rules.get('sch/cycle')
    const picture = registry.notations.find(({ id }) => id === 'schedule')?.pictures.find(({ id }) => id === 'bars')
    if (!rule || !picture) throw new Error('no such rule, or no such picture')
    const spies = [
      vi.spyOn(rule, 'check').mockImplementation(fails),
      vi.spyOn(picture, 'draw').mockImplementation(fails),
    ]
    const checked = await run('check', named('far'))
    expect(checked.code).toBe(3)
    expect(checked.out).toContain(
      'This could not be checked, because the rule failed: Maximum call stack size exceeded.',
    )
    expect(checked.out).toContain('[sch/too-far]')
    const drawn = await run('draw', named('far'), '--picture', 'schedule/bars', '--out', join(folder, 'x.svg'))
    expect(drawn).toMatchObject({ code: 3, err: expect.stringContaining('no fault of the facts') as string })
    for (const spy of spies) spy.mockRestore()
  })
})

describe('skivel check', () => {
  it('lists findings as JSON and ends with 1 when there is an error', async () => {
    const { code, out } = await run('check', DEMO, '--day', '2026-11-24', '--json')
    const { findings } = JSON.parse(out) as {
      findings: { rule: string; severity: string; message: string; subjects: string[] }[]
    }
    expect(code).toBe(1)
    expect(findings.map(({ rule }) => rule)).toEqual([
      'org/two-managers',
      'org/manager-not-in-force',
      'flow/deadlock',
      'sch/person-not-in-post',
      'uml/composite-shared',
      'uml/state-trap',
      'org/vacant-manager',
      'flow/unlabelled-branch',
      'sch/over-allocated',
      'sch/should-have-started',
      'net/single-point',
      'net/shadowed-rule',
      'net/end-of-support',
      'x/host-retired',
      'uml/package-cycle',
      'uml/schema-drift',
      'uml/message-unknown-operation',
    ])
    expect(Object.keys(findings[0] ?? {})).toEqual(['rule', 'severity', 'message', 'subjects'])
  })
  it('ends with 0 when all is well, and depends on the day', async () => {
    const well = file('well.skivel.json', { ...WORKSPACE, entities: [{ id: 'a', kind: 'position', name: 'A' }] })
    expect(await run('check', well)).toMatchObject({ code: 0, out: '0 errors, 0 warnings, 0 notes\n' })
    expect((await run('check', DEMO, '--day', '2026-08-15')).out).not.toContain('vacant')
  })
  it('explains what is wrong with a file, with paths, and ends with 2', async () => {
    const bad = file('bad.skivel.json', { ...WORKSPACE, entities: [{ id: 'a', kind: 'dragon', name: 'A' }] })
    expect(await run('check', bad)).toMatchObject({ code: 2, out: '' })
    expect((await run('check', bad)).err).toContain('entities[0].kind is not a kind of entity')
    expect((await run('check', file('x.json', 'no json'))).err).toContain('not JSON')
    expect((await run('check', join(folder, 'none'))).err).toContain('cannot be read')
  })
})

describe('skivel draw', () => {
  it('writes an SVG of the first view, of a named view and of a picture', async () => {
    const out = join(folder, 'a.svg')
    expect((await run('draw', DEMO, '--out', out, '--day', '2026-11-24')).code).toBe(0)
    expect(readFileSync(out, 'utf8')).toContain('Hedda Lauring')
    await run('draw', DEMO, '--view', 'port-services', '--out', out)
    expect(readFileSync(out, 'utf8')).not.toContain('Hedda Lauring')
    await run('draw', DEMO, '--picture', 'organisation/tree', '--out', out, '--width', '900')
    expect(readFileSync(out, 'utf8')).toContain('width="900"')
  })
  it('draws the pictures that came with the file', async () => {
    const out = join(folder, 'history.svg')
    expect((await run('draw', DEMO, '--view', 'history', '--out', out, '--day', '2026-11-24')).code).toBe(0)
    expect(readFileSync(out, 'utf8').match(/<image [^>]*href="data:image\/jpeg;base64,/g)).toHaveLength(6)
  })
  it('draws what differs between two days', async () => {
    const out = join(folder, 'c.svg')
    expect((await run('draw', DEMO, '--out', out, '--day', '2027-02-01', '--compare', '2026-11-24')).code).toBe(0)
    expect(readFileSync(out, 'utf8')).toContain('No longer there')
    expect((await run('draw', DEMO, '--out', out, '--compare', 'soon')).err).toMatch(/is not a day/)
  })
  it('writes a PNG as wide as asked', async () => {
    const out = join(folder, 'a.png')
    expect((await run('draw', DEMO, '--out', out, '--width', '1234')).code).toBe(0)
    expect(readFileSync(out).readUInt32BE(16)).toBe(1234)
  })
  it.each([
    [['draw', DEMO], /--out/],
    [['draw', DEMO, '--out', 'x.gif'], /ends in \.svg, \.png, \.jpg, \.webp, \.pdf, \.html, \.docx, \.odt/],
    [['draw', DEMO, '--out', '/none/x.svg'], /cannot be written/],
    [['draw', DEMO, '--view', 'nope', '--out', '/tmp/x.svg'], /no view “nope”. It has whole-company/],
    [['draw', DEMO, '--picture', 'a/b', '--out', '/tmp/x.svg'], /organisation\/tree/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--width', '9999999'], /--width is 16 to 12,000 pixels: not “9999999”/],
    [['draw', DEMO, '--out', '/tmp/x.jpg', '--quality', '0'], /--quality/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--border', '-1'], /--border/],
    [['draw', DEMO, '--out', '/tmp/x.pdf', '--scale', 'large'], /--scale is 1 to 400 per cent/],
    [['draw', DEMO, '--out', '/tmp/x.pdf', '--paper', 'A77'], /“A77” is no paper/],
    [['draw', DEMO, '--out', '/tmp/x.pdf', '--paper', 'A5', '--border', '70'], /A border of 70 leaves no room/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--width', '300', '--border', '140'], /A border of 140 leaves no room/],
    [['draw', DEMO, '--out', '/tmp/x.pdf', '--paper', 'A5', '--scale', '100', '--border', '72'], /leaves no room/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--view', 'all'], /Only a PDF holds several/],
    [['draw', DEMO, '--out', '/tmp/x.svg', '--letters', 'bold'], /--letters is one of/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--paper', 'A2', '--dpi', '1200'], /more than can be drawn|px wide/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--border=-3'], /--border is 0 to 500/],
    [
      ['draw', DEMO, '--out', '/tmp/x.jpg', '--with-facts'],
      /--with-facts means nothing for JPG, only for SVG, PNG, PDF/,
    ],
    [['draw', DEMO, '--out', '/tmp/x.webp', '--with-facts'], /--with-facts means nothing for WEBP/],
    [['draw', DEMO, '--out', '/tmp/x.jpeg', '--transparent'], /--transparent means nothing for JPG/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--letters', 'inside'], /--letters means nothing for PNG, only for SVG/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--quality', '50'], /--quality means nothing for PNG/],
    [['draw', DEMO, '--out', '/tmp/x.pdf', '--width', '900'], /--width means nothing for PDF/],
    [['draw', DEMO, '--out', '/tmp/x.html', '--wide', '90'], /--wide means nothing for HTML, only for DOCX, ODT/],
    [['draw', DEMO, '--out', '/tmp/x.docx', '--border', '9'], /--border means nothing for DOCX/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--paper', 'A4', '--width', '900'], /once: with --width or with --paper/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--megapixels', '1', '--width', '900'], /--width or with --megapixels/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--dpi', '300'], /Dots per inch are those of a paper/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--dpi', '300', '--width', '900'], /--dpi is said of --paper/],
    [['draw', DEMO, '--out', '/tmp/x.png', '--across'], /A paper lies across/],
    [['draw', DEMO, '--out', '/tmp/x.pdf', '--overlap', '5'], /--overlap is said of --scale/],
    [['draw', DEMO, '--out', '/tmp/x.svg', '--json'], /“draw” does nothing with --json/],
    [['check', DEMO, '--width', '900'], /“check” does nothing with --width/],
    [['diff', DEMO, '--compare', '2027-02-01', '--width', '900'], /--width is about a picture/],
    [['diff', DEMO, '--compare', '2027-02-01', '--json', '--out', 'x.svg'], /Either words as JSON/],
    [['check', DEMO, '--format', 'html'], /--format is one of words, json, sarif, junit/],
    [['diff', DEMO], /Name a second file, or another day/],
    [['check', DEMO, '--day', 'soon'], /is not a day/],
    [['check', DEMO, 'other'], /One file at a time/],
    [['check'], /Name a workspace file/],
    [['paint', DEMO], /no command “paint”/],
    [['check', DEMO, '--colour'], /--colour/],
    [['numbers', DEMO, '--sheet', 'a/b'], /organisation\/spans/],
  ])('%j is refused in words', async (args, words) => {
    const { code, err } = await run(...args)
    expect([code, words.test(err)], err).toEqual([2, true])
  })
})

describe('skivel draw, for documents', () => {
  const read = (name: string) => readFileSync(join(folder, name))
  const drawn = (name: string, ...more: string[]) =>
    run('draw', DEMO, '--day', '2026-11-24', '--out', join(folder, name), ...more)
  it('writes JPEG and WebP of a quality, as large as asked', async () => {
    const { out: whole } = await drawn('framed.png', '--megapixels', '2', '--border', '200')
    const [, across, high] = /(\d+) × (\d+) px/.exec(whole) ?? []
    expect(Math.abs((Number(across) * Number(high)) / 2e6 - 1)).toBeLessThan(0.005)
    expect((await drawn('a.jpg', '--megapixels', '1', '--quality', '60', '--border', '12')).out).toMatch(/\d+ × \d+ px/)
    expect([...read('a.jpg').subarray(0, 3)]).toEqual([0xff, 0xd8, 0xff])
    expect((await drawn('a.webp', '--width', '700', '--transparent')).code).toBe(0)
    expect(read('a.webp').toString('latin1', 8, 12)).toBe('WEBP')
  })
  it('puts a picture on a paper at so many dots per inch', async () => {
    expect((await drawn('a4.png', '--paper', 'A4', '--dpi', '300', '--border', '8')).out).toContain('2480 × 3508 px')
    expect([read('a4.png').readUInt32BE(16), read('a4.png').readUInt32BE(20)]).toEqual([2480, 3508])
  })
  it('makes one PDF of all views, and sheets of one', async () => {
    const { out } = await drawn('all.pdf', '--view', 'all')
    expect(Number(/(\d+) sheets/.exec(out)?.[1])).toBeGreaterThan(28)
    expect(
      (await drawn('two.pdf', '--view', 'cancelled', '--view', 'whole-company', '--paper', 'A3', '--across')).out,
    ).toContain('2 sheets of A3 across')
    expect((await drawn('tiled.pdf', '--view', 'cancelled', '--scale', '100', '--paper', 'A4')).out).toContain(
      '4 sheets of A4 upright',
    )
  })
  it.each(['svg', 'png', 'pdf'])('puts the facts into a %s, which is then read as a file', async (ending) => {
    const name = `carrying.${ending}`
    const { err: told } = await drawn(name, '--view', 'port-services', '--with-facts')
    expect(told).toMatch(/takes along.*\n(?: {2}.*\n)* {2}positions: 19 with location: .*Port/)
    expect(told).not.toMatch(/cost|email/)
    const checked = await run('check', join(folder, name), '--day', '2026-11-24', '--json')
    expect(checked.code).toBe(0)
    expect(checked.out).toContain('org/vacant')
    const again = join(folder, 'again.svg')
    expect((await run('draw', join(folder, name), '--out', again, '--day', '2026-11-24')).code).toBe(0)
    expect(readFileSync(again, 'utf8')).toContain('Osei Brandt')
    await drawn(`bare.${ending}`)
    expect((await run('check', join(folder, `bare.${ending}`))).err).toContain('carries no facts')
    writeFileSync(join(folder, `cut.${ending}`), read(name).subarray(0, 300))
    expect((await run('check', join(folder, `cut.${ending}`))).code).toBe(2)
  })
})

describe('skivel book', () => {
  it('writes a PDF and a page of HTML', async () => {
    const out = join(folder, 'book.pdf')
    const made = await run('book', DEMO, '--out', out, '--day', '2026-11-24', '--since', '2026-01-01')
    expect(made.code).toBe(0)
    expect(made.err).toMatch(/^(?:page \d+ …\n)*$/)
    expect(made.out).toMatch(/^.*book\.pdf: \d+ pages, 32 pictures, \d+ tables\n$/)
    expect(readFileSync(out).toString('latin1', 0, 5)).toBe('%PDF-')
    const page = join(folder, 'book.html')
    expect((await run('book', DEMO, '--out', page)).code).toBe(0)
    expect(readFileSync(page, 'utf8')).toContain('id="findings"')
  })
  it.each([
    [['--out', 'x.txt'], /ends in \.pdf or \.html/],
    [['--out', 'x.pdf', '--since', 'once'], /is not a day/],
  ])('%j is refused in words', async (args, words) => {
    const { code, err } = await run('book', DEMO, ...args)
    expect([code, words.test(err)], err).toEqual([2, true])
  })
  it('writes a view for text programs', async () => {
    for (const ending of ['docx', 'odt', 'html']) {
      const out = join(folder, `view.${ending}`)
      const { code } = await run(
        'draw',
        DEMO,
        '--view',
        'port-services',
        '--out',
        out,
        ...(ending === 'html' ? [] : ['--wide', '120']),
        '--without-tables',
      )
      expect([ending, code, readFileSync(out).length > 3000]).toEqual([ending, 0, true])
    }
  })
})

describe('skivel for pipelines', () => {
  it('answers SARIF 2.1.0, valid by the schema of OASIS as npm sarif-schemas carries it', async () => {
    const validate = sarifSchema()
    const { code, out } = await run('check', DEMO, '--day', '2026-11-24', '--format', 'sarif')
    expect(code).toBe(1)
    const report = JSON.parse(out) as Sarif
    expect(validate(report), JSON.stringify(validate.errors)).toBe(true)
    const told = JSON.parse((await run('check', DEMO, '--day', '2026-11-24', '--json')).out) as {
      findings: { message: string; rule: string }[]
    }
    const [{ results, tool }] = report.runs
    expect(results.map(({ message }) => message.text)).toEqual(told.findings.map(({ message }) => message))
    for (const { ruleId, ruleIndex } of results) expect(tool.driver.rules[ruleIndex]?.id).toBe(ruleId)
    // Each leads to the line in which its fact begins.
    const lines = readFileSync(DEMO, 'utf8').split('\n')
    for (const { locations } of results)
      for (const { physicalLocation, logicalLocations } of locations) {
        const id = logicalLocations[0].fullyQualifiedName.split('/')[1] ?? ''
        expect(lines[(physicalLocation.region?.startLine ?? 0) - 1]).toContain(`"id": "${id}"`)
      }
    expect(validate({ ...report, version: '3' })).toBe(false)
  })
  it('answers JUnit XML, in which errors fail and what is accepted is skipped', async () => {
    const { out } = await run('check', DEMO, '--day', '2026-11-24', '--format', 'junit')
    const parsed = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' }).parse(out) as Junit
    const { testsuite } = parsed.testsuites
    const failed = testsuite.testcase.filter((one) => one.failure)
    expect(failed.length).toBe(Number(testsuite.failures))
    expect(failed.map((one) => one.classname)).toContain('org/two-managers')
    expect(testsuite.testcase.length).toBe(registry.rules.size)
    expect(out).toContain('“Service designer” reports to')
    const model = JSON.parse(readFileSync(DEMO, 'utf8')) as { settings: object }
    const key = 'org/two-managers ux po revenue'
    const accepted = { [key]: { reason: 'until <spring>', until: '2027-03-01' } }
    const again = file('accepted.skivel.json', { ...model, settings: { ...model.settings, accepted } })
    const { out: second } = await run('check', again, '--day', '2026-11-24', '--format', 'junit')
    expect(second).toContain('<skipped message="accepted: until &lt;spring&gt;"/>')
    const report = join(folder, 'report.xml')
    expect((await run('check', DEMO, '--format', 'junit', '--out', report)).out).toBe('')
    expect(readFileSync(report, 'utf8')).toContain('<testsuites')
  })
  it('tells what differs between two files, and between two days of one', async () => {
    const base = { ...WORKSPACE, entities: [], relations: [], views: [], settings: { thresholds: {}, accepted: {} } }
    const one = (id: string, name: string, fields = {}) => ({ id, kind: 'position', name, fields })
    const a = file('a.skivel.json', { ...base, entities: [one('x', 'Master', { grade: 'G7' }), one('y', 'Mate')] })
    const b = file('b.skivel.json', { ...base, entities: [one('x', 'Master', { grade: 'G8' }), one('z', 'Cook')] })
    expect(await run('diff', a, b)).toEqual({
      code: 1,
      out: '+ Position “Cook”\n− Position “Mate”\n~ Position “Master”: Grade was G7\n',
      err: '',
    })
    expect(await run('diff', a, a)).toEqual({ code: 0, out: 'Nothing differs.\n', err: '' })
    const { out } = await run('diff', a, b, '--json')
    expect((JSON.parse(out) as { differences: unknown[] }).differences).toHaveLength(3)
    const days = await run('diff', DEMO, '--day', '2026-11-24', '--compare', '2027-02-01')
    expect(days.out).toContain('+ Position “Head of terminals”')
    expect(days.out).toContain('− Position “Port services lead”')
    const picture = join(folder, 'differs.svg')
    const drawn = await run('diff', DEMO, '--day', '2027-02-01', '--compare', '2026-11-24', '--out', picture)
    expect([drawn.code, readFileSync(picture, 'utf8').includes('No longer there')]).toEqual([1, true])
    const two = join(folder, 'two.svg')
    await run('diff', a, b, '--out', two, '--picture', 'organisation/tree')
    expect(readFileSync(two, 'utf8')).toContain('No longer there')
  })
  it('compares all that two files say, whatever day it is of, and facts of one day where that is asked', async () => {
    const person = (more: object) => ({ id: 'r', kind: 'person', name: 'Ruth Abel', fields: {}, ...more })
    const base = { ...WORKSPACE, entities: [person({})], relations: [], views: [] }
    const settings = { thresholds: {}, accepted: {} }
    const view = { id: 'v', notation: 'organisation', picture: 'tree', title: 'All', order: 0, scope: {}, options: {} }
    const shown = { ...view, pins: {}, look: {} }
    const photo = '0123456789abcdef0123456789abcdef01234567'
    const key = 'org/vacant-manager x'
    const say = async (a: object, b: object, ...more: string[]) => {
      const files = [file('one.skivel.json', { ...base, ...a }), file('two.skivel.json', { ...base, ...b })]
      const { code, out, err } = await run('diff', ...files, ...more)
      expect({ code, err }).toEqual({ code: out === 'Nothing differs.\n' ? 0 : 1, err: '' })
      return out
    }
    expect(await say({}, { entities: [person({ from: '2031-01-01' })] })).toBe(
      '~ Person “Ruth Abel”: first day was open\n',
    )
    expect(await say({}, { entities: [person({}), person({ id: 's', to: '1999-01-01' })] })).toBe(
      '+ Person “Ruth Abel”\n',
    )
    expect(
      await say({}, { entities: [person({}), person({ id: 's', to: '1999-01-01' })] }, '--day', '2026-11-24'),
    ).toBe('Nothing differs.\n')
    expect(await say({}, { name: 'Otherwise' })).toContain('~ Workspace “Otherwise”: was called “')
    expect(await say({ settings }, { settings: { ...settings, thresholds: { 'org/wide-span': 9 } } })).toMatch(
      /^\+ Limit “/,
    )
    expect(await say({ settings: { ...settings, accepted: { [key]: { reason: 'winter' } } } }, { settings })).toBe(
      `− Accepted finding “${key}”: accepted: winter\n`,
    )
    expect(await say({ settings }, { settings: { ...settings, look: { tone: 'dark' } } })).toBe('+ Look “tone”\n')
    const theme = { own: ['House', '#1f5a9a'] }
    expect(
      await say(
        { settings: { ...settings, themes: theme } },
        { settings: { ...settings, themes: { own: ['House', '#1f5a9b'] } } },
      ),
    ).toBe('~ Theme “House”: was House, #1f5a9a\n')
    expect(await say({ views: [shown] }, { views: [{ ...shown, title: 'Everyone', look: { tone: 'dark' } }] })).toBe(
      '~ tree “Everyone”: Tone was not said; title was "All"\n',
    )
    // What became of a tie is told once, where it begins.
    const posts = ['p', 'q'].map((one) => ({ id: one, kind: 'position', name: one.toUpperCase(), fields: {} }))
    const holds = (more: object) => ({
      entities: [person({}), ...posts],
      relations: [{ id: 'h', kind: 'holds', source: 'r', target: 'p', fields: {}, ...more }],
    })
    expect(await say(holds({}), holds({ to: '2027-03-31' }))).toBe(
      '~ Person “Ruth Abel”: holds “P”: last day was open\n',
    )
    expect(await say(holds({}), holds({ target: 'q' }))).toBe(
      '~ Person “Ruth Abel”: holds “Q” instead of “P”\n~ holds “Ruth Abel – Q”: target was "P"\n',
    )
    const held = { entities: [person({ fields: { photo } })] }
    expect(await say({ ...held, pictures: { [photo]: 'data:image/png;base64,iVBORw0KGgo=' } }, held)).toBe(
      '− Picture “Ruth Abel”\n',
    )
    expect(await say(held, { entities: [person({})] })).toBe('~ Person “Ruth Abel”: another photo\n')
  })
  it('begins in a moment: compiled once, and again when a source has changed', () => {
    const small = file('small.skivel.json', WORKSPACE)
    const begin = () => spawnSync(process.execPath, ['bin/skivel.mjs', 'check', small], { encoding: 'utf8' })
    expect(begin()).toMatchObject({ status: 0, stdout: '0 errors, 0 warnings, 0 notes\n' })
    const made = readdirSync('.skivel/command-line')
    expect(made.length).toBeGreaterThan(0)
    expect(begin().status).toBe(0)
    expect(readdirSync('.skivel/command-line')).toEqual(made)
  })
})

type Validate = ((json: unknown) => boolean) & { readonly errors?: unknown }

/** The schema is one of draft 04, which the package brings a validator for. */
function sarifSchema(): Validate {
  const own = createRequire(createRequire(import.meta.url).resolve('sarif-schemas'))
  const Validator = own('ajv') as new (options: object) => {
    addMetaSchema(schema: unknown): void
    compile(schema: unknown): Validate
  }
  const validator = new Validator({ schemaId: 'auto', meta: false, unknownFormats: 'ignore' })
  validator.addMetaSchema(own('ajv/lib/refs/json-schema-draft-04.json'))
  return validator.compile(own('./schemas/sarif-2.1.0-rtm.5.json'))
}

interface Sarif {
  readonly runs: readonly [
    {
      readonly tool: { readonly driver: { readonly rules: readonly { readonly id: string }[] } }
      readonly results: readonly {
        readonly ruleId: string
        readonly ruleIndex: number
        readonly message: { readonly text: string }
        readonly locations: readonly {
          readonly physicalLocation: { readonly region?: { readonly startLine: number } }
          readonly logicalLocations: readonly [{ readonly fullyQualifiedName: string }]
        }[]
      }[]
    },
  ]
}
interface Junit {
  readonly testsuites: {
    readonly testsuite: {
      readonly failures: string
      readonly testcase: readonly { readonly classname: string; readonly failure?: unknown }[]
    }
  }
}

describe('skivel numbers', () => {
  it('gives columns with units, and rows', async () => {
    const { out } = await run('numbers', DEMO, '--sheet', 'organisation/spans', '--day', '2026-11-24', '--json')
    const { columns, rows } = JSON.parse(out) as {
      columns: { id: string; label: string; unit: string | null }[]
      rows: Record<string, unknown>[]
    }
    expect(columns.map(({ id }) => id)).toContain('span')
    expect(rows.find(({ id }) => id === 'ports')).toMatchObject({ span: 9, holder: 'Osei Brandt' })
  })
  it('prints a table to read', async () =>
    expect((await run('numbers', DEMO, '--sheet', 'organisation/totals')).out).toMatch(
      /^Measure\tValue\nPositions\t\d+/,
    ))
})

describe('skivel on plans', () => {
  it('gives early and late dates, floats, and how likely a day is kept', async () => {
    const dates = JSON.parse(
      (await run('numbers', DEMO, '--sheet', 'schedule/dates', '--day', '2026-11-24', '--json')).out,
    ) as {
      columns: { id: string }[]
      rows: Record<string, unknown>[]
    }
    expect(dates.columns.map(({ id }) => id)).toEqual(
      expect.arrayContaining([
        'task',
        'earlyStart',
        'earlyFinish',
        'lateStart',
        'lateFinish',
        'totalFloat',
        'freeFloat',
        'critical',
      ]),
    )
    expect(dates.rows.find(({ task }) => task === 'Order steel plates')).toMatchObject({
      earlyStart: '2026-10-05',
      earlyFinish: '2026-10-15',
      critical: false,
    })
    const likely = async (date: string) => {
      const { rows } = JSON.parse(
        (await run('numbers', DEMO, '--sheet', 'schedule/estimate', '--date', date, '--day', '2026-11-24', '--json'))
          .out,
      ) as typeof dates
      return Number(rows[0]?.['probability'])
    }
    expect(await likely('2027-01-04')).toBeLessThan(0.05)
    expect(await likely('2027-12-31')).toBeGreaterThan(0.99)
    expect((await run('numbers', DEMO, '--sheet', 'schedule/estimate', '--date', 'soon')).err).toContain('is not a day')
  })
  it('draws bars and timelines, and converts a plan to a calendar and back', async () => {
    const out = join(folder, 'plan.svg')
    expect((await run('draw', DEMO, '--picture', 'schedule/bars', '--out', out, '--day', '2026-11-24')).code).toBe(0)
    expect(readFileSync(out, 'utf8')).toContain('Order steel plates')
    expect((await run('draw', DEMO, '--view', 'history', '--out', out)).code).toBe(0)
    expect(readFileSync(out, 'utf8')).toContain('Two pilots put a steam')
    const [calendar, back] = ['plan.ics', 'plan.skivel.json'].map((name) => join(folder, name))
    expect((await run('convert', DEMO, calendar ?? '', '--view', 'dry-dock', '--day', '2026-11-24')).code).toBe(0)
    expect(readFileSync(calendar ?? '', 'utf8')).toContain('SUMMARY:Order steel plates')
    expect((await run('convert', calendar ?? '', back ?? '')).code).toBe(0)
    expect((await run('numbers', back ?? '', '--sheet', 'schedule/dates')).out).toContain(
      'Order steel plates\t2026-10-05\t2026-10-15',
    )
  })
})

describe('skivel on networks', () => {
  const sheet = async (name: string, ...more: readonly string[]) =>
    (
      JSON.parse(
        (await run('numbers', DEMO, '--sheet', `network/${name}`, '--day', '2026-11-24', '--json', ...more)).out,
      ) as { rows: Record<string, unknown>[] }
    ).rows

  it.each([
    ['devices', { device: 'rt-skerry', cutsOff: 3, cutsOffCritical: 1, reaches: 40, critical: false }],
    ['cables', { cable: 'isp-north ge0 – fw-quay-1 wan1', load: 10, capacity: 1000, share: 1 }],
    ['subnets', { subnet: 'Edge', prefix: '10.20.0.0/24', addresses: 254, used: 4, free: 250, nextFree: '10.20.0.5' }],
    ['flows', { flow: 'web-1 → tick-app-1', verdict: 'allowed', rule: 'Shop to ticketing', hops: 4, method: 'exact' }],
    ['losses', { what: 'rt-skerry', losses: 1, cutOffCritical: 1, method: 'every single one' }],
    ['racks', { rack: 'A1', units: 24, free: 17, watts: 1470, supply: 3000, share: 49 }],
  ])('numbers %s, counts as numbers and flags as booleans', async (name, row) =>
    expect(await sheet(name)).toContainEqual(expect.objectContaining(row)),
  )
  it('tells what lies between two devices, and refuses one that is not there', async () => {
    expect(await sheet('pair', '--from', 'desk-tern-1', '--to', 'tick-db-1')).toEqual([
      expect.objectContaining({ from: 'desk-tern-1', to: 'tick-db-1', shortest: 8, disjoint: 1, minimumCut: 1 }),
    ])
    const { code, err } = await run('numbers', DEMO, '--sheet', 'network/pair', '--from', 'nobody', '--to', 'web-1')
    expect([code, err]).toEqual([2, expect.stringContaining('Nothing in the file is called “nobody”')])
  })
  it.each(['json', 'graphml', 'hosts'])('converts a network to .%s and back', async (ending) => {
    const [there, back] = [join(folder, `network.${ending}`), join(folder, `network-${ending}.skivel.json`)]
    expect((await run('convert', DEMO, there, '--view', 'port-network', '--day', '2026-11-24')).code).toBe(0)
    expect((await run('convert', there, back)).code).toBe(0)
    const { rows } = JSON.parse((await run('numbers', back, '--sheet', 'network/devices', '--json')).out) as {
      rows: { device: string; reaches: number }[]
    }
    const known = rows.find(({ device }) => device === 'rt-skerry')
    expect([rows.length > 20, known?.reaches]).toEqual([true, ending === 'hosts' ? 0 : 40])
  })
  it.each(['zones', 'addresses', 'sites', 'racks'])('draws %s of all facts, and two days compared', async (picture) => {
    const out = join(folder, `${picture}.svg`)
    const drawn = ['draw', DEMO, '--picture', `network/${picture}`, '--out', out, '--day', '2027-04-01']
    expect((await run(...drawn)).code).toBe(0)
    const alone = readFileSync(out, 'utf8')
    expect((await run(...drawn, '--compare', '2026-11-24')).code).toBe(0)
    const both = readFileSync(out, 'utf8')
    expect([alone.includes('tick-new-1'), both.length > alone.length]).toEqual([picture !== 'sites', true])
  })
  it('checks it with rules of networks, on a day', async () => {
    const found = async (day: string) => (await run('check', DEMO, '--day', day)).out
    expect(await found('2026-11-24')).not.toContain('net/duplicate-address')
    expect(await found('2027-04-01')).toContain('net/duplicate-address')
  })
})

describe('skivel on software', () => {
  it('converts a model to XMI and back, with the same numbers, and classes to tables and back', async () => {
    const [xmi, there, sql, back] = ['a.xmi', 'a.skivel.json', 'b.sql', 'b.skivel.json'].map((one) => join(folder, one))
    expect((await run('convert', DEMO, xmi ?? '', '--day', '2026-11-24')).code).toBe(0)
    expect((await run('convert', xmi ?? '', there ?? '')).code).toBe(0)
    const numbers = async (from: string, sheet: string) =>
      (
        JSON.parse((await run('numbers', from, '--sheet', sheet, '--json', '--day', '2026-11-24')).out) as {
          rows: object[]
        }
      ).rows
    for (const sheet of ['uml/classes', 'uml/packages', 'uml/states', 'uml/paths'])
      expect(await numbers(there ?? '', sheet)).toEqual(await numbers(DEMO, sheet))
    expect((await run('convert', DEMO, sql ?? '', '--view', 'tickets', '--day', '2026-11-24')).code).toBe(0)
    const read = await run('convert', sql ?? '', back ?? '')
    expect([read.code, read.out]).toEqual([0, expect.stringContaining('23 tables: 20 classes.')])
    expect((await run('convert', file('bad.sql', 'DROP TABLE x;'), back ?? '')).err).toContain('no CREATE TABLE')
    expect((await run('convert', file('bad.xmi', '<a/>'), back ?? '')).err).toContain('no XMI of UML')
  })
})

describe('skivel on processes', () => {
  it('numbers the steps and the whole', async () => {
    const steps = JSON.parse((await run('numbers', DEMO, '--sheet', 'process/steps', '--json')).out) as {
      columns: { id: string }[]
      rows: Record<string, unknown>[]
    }
    const total = JSON.parse((await run('numbers', DEMO, '--sheet', 'process/total', '--json')).out) as typeof steps
    expect(steps.columns.map(({ id }) => id)).toEqual(expect.arrayContaining(['step', 'visits', 'time', 'cost']))
    expect(steps.rows.find(({ step }) => step === 'Assess the sailing')).toMatchObject({ visits: 1 })
    const costs = steps.rows.filter(({ process }) => process === 'Sailing cancelled').map(({ cost }) => Number(cost))
    const whole = total.rows.find(({ process }) => process === 'Sailing cancelled')
    expect(costs.reduce((sum, cost) => sum + cost, 0)).toBeCloseTo(Number(whole?.['cost']), 1)
  })
  it('draws lanes and their heads', async () => {
    const out = join(folder, 'lanes.svg')
    expect((await run('draw', DEMO, '--picture', 'process/lanes', '--out', out, '--day', '2026-11-24')).code).toBe(0)
    const svg = readFileSync(out, 'utf8')
    expect(svg).toContain('Passenger desk')
    expect(svg).toContain('Ida Nwosu')
  })
  it('converts BPMN to a workspace and back, with the same elements', async () => {
    const [there, facts, back] = ['a.bpmn', 'b.skivel.json', 'c.bpmn'].map((name) => join(folder, name))
    expect((await run('convert', DEMO, there ?? '', '--view', 'fare')).code).toBe(0)
    expect((await run('convert', there ?? '', facts ?? '')).code).toBe(0)
    expect((await run('convert', facts ?? '', back ?? '')).code).toBe(0)
    const names = (path = '') =>
      [...readFileSync(path, 'utf8').matchAll(/name="([^"]+)"/g)].map(([, name]) => name).sort()
    expect(names(back)).toEqual(names(there))
    expect(names(back)).toContain('Draft the fare table')
    expect((await run('convert', there ?? '', join(folder, 'x.doc'))).code).toBe(2)
    expect((await run('convert', file('bad.bpmn', '<definitions>'), facts ?? '')).err).toContain('no well-formed XML')
  })
  it('says that a table is not in UTF-8, and reads it', async () => {
    const from = join(folder, 'old.csv')
    writeFileSync(from, Buffer.from('Name,Title\nJürgen Aas,Head\n', 'latin1'))
    const { code, out } = await run('convert', from, join(folder, 'old.skivel.json'))
    expect([code, out]).toEqual([0, expect.stringContaining('not written in UTF-8; it is read as windows-1252')])
    expect(readFileSync(join(folder, 'old.skivel.json'), 'utf8')).toContain('Jürgen Aas')
  })
  it('says how it read the columns of a table, and refuses one whose days may mean two', async () => {
    const to = join(folder, 'staff.skivel.json')
    const table = (day: string) => file('staff.csv', `Name;Title;FTE;Hire date\nHolm, Ada;Head;0,5;${day}\n`)
    const read = await run('convert', table('24/11/2020'), to)
    expect([read.code, read.out]).toEqual([
      0,
      expect.stringContaining('“Hire date”: day first: 24/11/2020 is 24 Nov 2020.'),
    ])
    expect(read.out).toContain('“FTE”: decimal comma: 0,5 is 0.5.')
    expect(readFileSync(to, 'utf8')).toContain('"Ada Holm"')
    const doubt = await run('convert', table('03/04/2020'), to)
    expect([doubt.code, doubt.err]).toEqual([
      2,
      expect.stringContaining('day first: 03/04/2020 is 3 Apr 2020, or month first: 03/04/2020 is 4 Mar 2020'),
    ])
  })
  it('says what of a BPMN file has no place among the facts', async () => {
    const from = join(folder, 'messages.bpmn')
    expect((await run('convert', DEMO, from, '--view', 'fare')).code).toBe(0)
    const text = readFileSync(from, 'utf8')
    const odd = text.replace(/(<(?:\w+:)?process [^>]*>)/, '$1<adHocNonsense id="odd"/>')
    expect(odd).not.toBe(text)
    const { code, out } = await run('convert', file('odd.bpmn', odd), join(folder, 'odd.skivel.json'))
    expect([code, out]).toEqual([0, expect.stringContaining('1 × “adHocNonsense” has no place among the facts')])
  })
})

describe('the command itself', () => {
  it('runs from the shell without a build and says how it is used', async () => {
    const { status, stdout } = spawnSync(process.execPath, ['bin/skivel.mjs', '--help'], { encoding: 'utf8' })
    expect([status, stdout.includes('skivel check FILE')]).toEqual([0, true])
  })
})

describe('what takes long', () => {
  it('says how far it is, from time to time', () => {
    const said: string[] = []
    let time = 0
    const tell = progress(
      (text) => said.push(text),
      () => time,
    )
    for (let sheet = 1; sheet <= 9; sheet++) {
      time += 900
      tell(sheet, 9)
    }
    time += 3000
    tell(40)
    expect(said).toEqual(['sheet 3 of 9 …\n', 'sheet 6 of 9 …\n', 'sheet 9 of 9 …\n', 'page 40 …\n'])
  })
})
