/** Pictures of the made-up ferry line, drawn for it: SVG of 320 × 320, by the event that they belong to. */

const sky = (from: string, to: string) =>
  `<defs><linearGradient id="s" x2="0" y2="1"><stop stop-color="${from}"/><stop offset="1" stop-color="${to}"/></linearGradient></defs><rect width="320" height="320" fill="url(#s)"/>`
const sea = (colour: string, crest: string) =>
  `<path d="M0 222q20-9 40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0V320H0Z" fill="${colour}"/><path d="M0 252q20-7 40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0M-20 286q20-7 40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0" fill="none" stroke="${crest}" stroke-width="4"/>`
const hills = (colour: string) => `<path d="M0 196l56-34l50 22l70-46l62 40l42-18l40 22V230H0Z" fill="${colour}"/>`
const smoke = (x: number, y: number) =>
  `<g fill="#fff" opacity=".75"><circle cx="${x}" cy="${y}" r="11"/><circle cx="${x - 22}" cy="${y - 14}" r="16"/><circle cx="${x - 54}" cy="${y - 24}" r="22"/></g>`
const picture = (...parts: string[]) =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 320 320" width="320" height="320">${parts.join('')}</svg>`
const windows = (x: number, y: number, count: number, step: number, fill: string) =>
  Array.from(
    { length: count },
    (_, i) => `<rect x="${x + i * step}" y="${y}" width="12" height="11" fill="${fill}"/>`,
  ).join('')
const car = (x: number, y: number, fill: string) =>
  `<path d="M${x} ${y}h34v-9l-8-1l-5-8h-13l-5 8h-3Z" fill="${fill}"/><g fill="#222b33"><circle cx="${x + 8}" cy="${y}" r="4.5"/><circle cx="${x + 26}" cy="${y}" r="4.5"/></g>`

export const DRAWINGS: Readonly<Record<string, string>> = {
  'Two pilots put a steam launch on the sound': picture(
    sky('#e9d9b8', '#f6ecd6'),
    hills('#a7ad93'),
    smoke(178, 112),
    '<rect x="172" y="126" width="16" height="64" fill="#3a2f2a"/><rect x="172" y="136" width="16" height="10" fill="#b5482f"/>',
    '<path d="M112 170h48v22h-48Z" fill="#efe3c7" stroke="#5b4636" stroke-width="4"/><path d="M106 168h60" stroke="#5b4636" stroke-width="6"/>',
    '<path d="M62 190h200q-6 36-34 46H96q-26-12-34-46Z" fill="#5b4636"/><path d="M64 198h196" stroke="#e9d9b8" stroke-width="4"/>',
    sea('#5f8a8b', '#8fb3ae'),
  ),
  'Paddle steamer Wader carries carriages': picture(
    sky('#cfdfe2', '#f3efe1'),
    hills('#8fa79a'),
    smoke(150, 84),
    '<rect x="142" y="98" width="20" height="78" fill="#26323a"/><rect x="142" y="110" width="20" height="12" fill="#d8b04a"/>',
    '<path d="M70 170h176v22H70Z" fill="#f7f3e6" stroke="#26323a" stroke-width="4"/>',
    windows(82, 176, 4, 18, '#6d8f98'),
    windows(196, 176, 3, 16, '#6d8f98'),
    '<path d="M30 190h262q-8 36-30 44H56q-20-10-26-44Z" fill="#26323a"/>',
    '<path d="M120 226a36 36 0 0 1 72 0Z" fill="#b5482f" stroke="#f7f3e6" stroke-width="4"/><path d="M156 226v-34M156 226l-26-22M156 226l26-22" stroke="#f7f3e6" stroke-width="4"/>',
    sea('#3f7280', '#7ea8ad'),
  ),
  'Marram Quay opens in stone': picture(
    sky('#bfd3dc', '#eef1ea'),
    hills('#93a598'),
    '<path d="M0 190h206v70H0Z" fill="#a59a86"/><path d="M0 190h206v12H0Z" fill="#c9bfa8"/><path d="M0 222h206M0 244h206M34 202v20M84 202v20M134 202v20M184 202v20M58 222v22M108 222v22M158 222v22" stroke="#82796a" stroke-width="3"/>',
    '<path d="M28 190v-62l34-24l34 24v62Z" fill="#e7dcc3" stroke="#6b5d4d" stroke-width="4"/><path d="M20 132l42-30l42 30" fill="none" stroke="#7c3b2c" stroke-width="9"/><rect x="52" y="154" width="20" height="36" fill="#3d4d57"/>',
    '<path d="M176 190v-92" stroke="#3d4d57" stroke-width="6"/><circle cx="176" cy="94" r="11" fill="#f3d36b" stroke="#3d4d57" stroke-width="4"/>',
    '<path d="M236 218v-96M236 124l44 68h-44Z" fill="#f7f3e6" stroke="#5b4636" stroke-width="4"/><path d="M208 206h90q-6 24-18 28h-52q-14-6-20-28Z" fill="#7c3b2c"/>',
    sea('#4b7f8c', '#86adb3'),
  ),
  'Drive-on ferries: cars no longer lifted by crane': picture(
    sky('#f2c98f', '#f9ecd0'),
    hills('#b79c7c'),
    '<rect x="196" y="104" width="62" height="30" fill="#fff" stroke="#233a4a" stroke-width="4"/><rect x="204" y="134" width="46" height="54" fill="#fff" stroke="#233a4a" stroke-width="4"/>',
    windows(204, 112, 3, 17, '#4f7f93'),
    '<path d="M222 104v-34" stroke="#233a4a" stroke-width="5"/>',
    '<path d="M40 188h246v16H40Z" fill="#fff" stroke="#233a4a" stroke-width="4"/><path d="M30 204h268q-8 28-28 34H58q-20-8-28-34Z" fill="#0f5c66"/><path d="M38 214h252" stroke="#f2c98f" stroke-width="4"/>',
    '<path d="M44 190l-38 24" stroke="#233a4a" stroke-width="7"/>',
    car(62, 184, '#b5482f'),
    car(106, 184, '#e0b13e'),
    car(150, 184, '#5c7f9c'),
    sea('#3e7480', '#7fa9ab'),
  ),
  'MS Eider enters service': picture(
    sky('#9fc7d8', '#e8f2f1'),
    hills('#7c9a94'),
    '<path d="M84 132h150l14 24H74Z" fill="#fff" stroke="#1c3440" stroke-width="4"/><path d="M112 106h86l10 26H102Z" fill="#fff" stroke="#1c3440" stroke-width="4"/>',
    windows(122, 114, 4, 19, '#2d6b7c'),
    windows(96, 139, 7, 20, '#2d6b7c'),
    '<path d="M206 82h26v50h-20Z" fill="#0f5c66"/><path d="M206 94h26" stroke="#fff" stroke-width="5"/>',
    '<path d="M36 156h250l10 30H28Z" fill="#f4f7f6" stroke="#1c3440" stroke-width="4"/>',
    windows(52, 164, 11, 21, '#9db7bd'),
    '<path d="M22 186h280q-8 42-34 52H58q-26-12-36-52Z" fill="#12505c"/><path d="M30 202h264" stroke="#d8b04a" stroke-width="5"/>',
    sea('#2f6f80', '#79a9b2'),
  ),
  'First electric ferry': picture(
    sky('#c9e6d8', '#f2f8ee'),
    hills('#86b09a'),
    '<g stroke="#fff" stroke-width="5" fill="none"><path d="M46 150v-74M46 76l-22 14M46 76l24 10M46 76l-2-28"/></g>',
    '<path d="M96 142q10-22 36-22h84q26 0 34 22Z" fill="#fff" stroke="#14424a" stroke-width="4"/>',
    '<path d="M120 130h108" stroke="#2f8f83" stroke-width="10"/>',
    '<path d="M40 142h246q8 22 8 42H30q0-22 10-42Z" fill="#fff" stroke="#14424a" stroke-width="4"/>',
    windows(60, 154, 10, 22, '#2f8f83'),
    '<path d="M22 184h278q-8 44-36 54H58q-28-12-36-54Z" fill="#2f8f83"/><path d="M168 190l-22 26h16l-6 20l24-28h-16Z" fill="#f6e27a"/>',
    sea('#3d8590', '#8fc0bd'),
  ),
}
