import { escape, toSvg } from '../../core/scene'
import { headingsOf, type Block, type Report } from './report'

const STYLE = `
body{font:15px/1.5 'Atkinson Hyperlegible Next','Noto Sans',system-ui,sans-serif;color:#1c2530;background:#fff;max-width:1100px;margin:0 auto;padding:32px 24px}
h1{font-size:28px;line-height:1.2;margin:0 0 4px}h2{font-size:21px;margin:40px 0 12px}h3{font-size:17px;margin:28px 0 8px}h4{font-size:15px;margin:20px 0 8px}
p.quiet,figcaption,.subtitle{color:#5a6471}figure{margin:0 0 20px}figure svg{max-width:100%;height:auto;border:1px solid #d8d4c9}
table{border-collapse:collapse;margin:0 0 20px;font-size:13px;width:100%}th,td{text-align:left;vertical-align:top;padding:4px 10px 4px 0;border-bottom:1px solid #d8d4c9}
th{font-weight:600}nav ol{list-style:none;padding:0;columns:2}nav li.inner{padding-left:18px}a{color:#12565e}
@media print{body{max-width:none;padding:0}h2{break-before:page}nav+h2,h3{break-after:avoid}figure,tr{break-inside:avoid}}
`

/** A report as one page of HTML that stands alone: pictures are in it as SVG, whose words are text. O(blocks) */
export function htmlOf(report: Report, images: ReadonlyMap<string, string> = new Map()): string {
  const { title, subtitle, lang, isBook, blocks } = report
  return [
    `<!doctype html>\n<html lang="${escape(lang)}">\n<head>\n<meta charset="utf-8">`,
    `<meta name="viewport" content="width=device-width, initial-scale=1">\n<title>${escape(title)}</title>`,
    `<style>${STYLE}</style>\n</head>\n<body>\n<h1>${escape(title)}</h1>\n<p class="subtitle">${escape(subtitle)}</p>`,
    ...(isBook ? [contentsOf(report)] : []),
    ...blocks.map((block) => blockIn(block, images)),
    '</body>\n</html>\n',
  ].join('\n')
}

const contentsOf = (report: Report): string =>
  [
    '<nav aria-label="Contents">\n<ol>',
    ...headingsOf(report)
      .filter(({ level }) => level < 3)
      .map(
        ({ level, id, text }) =>
          `<li${level > 1 ? ' class="inner"' : ''}><a href="#${escape(id)}">${escape(text)}</a></li>`,
      ),
    '</ol>\n</nav>',
  ].join('\n')

function blockIn(block: Block, images: ReadonlyMap<string, string>): string {
  switch (block.sort) {
    case 'heading': {
      const tag = `h${block.level + 1}`
      return `<${tag} id="${escape(block.id)}">${escape(block.text)}</${tag}>`
    }
    case 'paragraph':
      return `<p${block.isQuiet ? ' class="quiet"' : ''}>${escape(block.text)}</p>`
    case 'list': {
      const tag = block.isNumbered ? 'ol' : 'ul'
      return `<${tag}>${block.items.map((item) => `<li>${escape(item)}</li>`).join('')}</${tag}>`
    }
    case 'picture': {
      const { view, scene, theme, alt, caption } = block
      const svg = toSvg(scene, { theme, title: view.title, alt, images })
      return `<figure>${svg}${caption ? `<figcaption>${escape(caption)}</figcaption>` : ''}</figure>`
    }
    case 'table':
      return [
        `<table>\n<thead><tr>${block.heading.map((cell) => `<th scope="col">${escape(cell)}</th>`).join('')}</tr></thead>`,
        '<tbody>',
        ...block.rows.map((row) => `<tr>${row.map((cell) => `<td>${escape(cell)}</td>`).join('')}</tr>`),
        '</tbody>\n</table>',
      ].join('\n')
  }
}
