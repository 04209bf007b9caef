import type { Severity } from '../core/notation'

/** How a severity is shown: by shape as well as by colour. */
export const SIGNS: Readonly<Record<Severity, { sign: string; word: string; text: string; fill: string }>> = {
  error: { sign: '■', word: 'error', text: 'text-error', fill: '#a8322a' },
  warning: { sign: '▲', word: 'warning', text: 'text-warning', fill: '#8a5c06' },
  note: { sign: '●', word: 'note', text: 'text-info', fill: '#3d5a80' },
}
