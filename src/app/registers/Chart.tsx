import { BarChart, LineChart } from 'echarts/charts'
import { AriaComponent, GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import * as echarts from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useEffect, useRef } from 'react'
import type { Day } from '../../core/model'
import { dayInWords } from '../../core/model'
import type { Pair } from './pair'

echarts.use([BarChart, LineChart, AriaComponent, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

const MOST_BARS = 60
/** Height in px of a lying bar with its gap. */
const BAR = 17
const short = new Intl.NumberFormat('en', { notation: 'compact' })
const frameHeight = (element: HTMLElement): number => element.parentElement?.clientHeight ?? 0

/** Bars over names, or a line over time, of one day or of two. What is clicked is picked. */
export function Chart({
  pairs,
  value,
  label,
  sort,
  day,
  days,
  onPick,
}: {
  pairs: readonly Pair[]
  value: string
  label: string
  sort: 'bars' | 'line'
  day: Day
  days: readonly Day[]
  onPick: (pair: Pair) => void
}) {
  const frame = useRef<HTMLDivElement>(null)
  const chart = useRef<echarts.ECharts | undefined>(undefined)
  const picked = useRef(onPick)
  useEffect(() => {
    picked.current = onPick
  }, [onPick])

  useEffect(() => {
    const element = frame.current
    if (!element) return
    chart.current = echarts.init(element, undefined, { renderer: 'svg' })
    const observer = new ResizeObserver(() => chart.current?.resize())
    observer.observe(element)
    return () => {
      observer.disconnect()
      chart.current?.dispose()
      chart.current = undefined
    }
  }, [])

  useEffect(() => {
    const drawn = chart.current
    const element = frame.current
    if (!drawn || !element) return
    const shown = pairs.slice(0, MOST_BARS)
    const style = getComputedStyle(element)
    const colour = (name: string) => style.getPropertyValue(name).trim()
    const [primary, quiet, hairline] = [
      colour('--color-primary'),
      colour('--color-secondary'),
      colour('--color-base-300'),
    ]
    // Names are read along their bars; numbers and months stand beneath them.
    const lying = sort === 'bars' && shown.some((pair) => pair.label.length > 4)
    element.style.height = lying ? `${Math.max(frameHeight(element), shown.length * BAR * days.length + 30)}px` : '100%'
    drawn.resize()
    const names = {
      type: 'category' as const,
      data: shown.map((pair) => pair.label),
      inverse: lying,
      axisTick: { show: false },
      axisLine: { lineStyle: { color: hairline } },
      axisLabel: { color: quiet, ...(lying ? { width: 96, overflow: 'truncate' as const } : { hideOverlap: true }) },
    }
    const amounts = {
      type: 'value' as const,
      scale: sort === 'line',
      splitNumber: 4,
      splitLine: { lineStyle: { color: hairline, type: 'dotted' as const } },
      axisLabel: { color: quiet, hideOverlap: true, formatter: (amount: number) => short.format(amount) },
    }
    const numberOf = (row: Pair['now']) => (typeof row?.[value] === 'number' ? row[value] : 0)
    const series = days.map((one, index) => ({
      name: dayInWords(one),
      type: sort === 'bars' ? ('bar' as const) : ('line' as const),
      data: shown.map((pair) => numberOf(index === 0 ? pair.now : pair.then)),
      barMaxWidth: lying ? 12 : 26,
      symbol: 'none',
      step: sort === 'line' ? ('end' as const) : undefined,
      // The second day is an outline: it reads without colour.
      itemStyle: index === 0 ? { color: primary } : { color: 'transparent', borderColor: quiet, borderWidth: 1 },
      lineStyle: { width: 1.5, color: primary },
      ...(sort === 'line'
        ? {
            markLine: {
              symbol: 'none',
              silent: true,
              lineStyle: { color: quiet, type: 'dashed' as const },
              label: { show: false },
              data: [{ xAxis: day.slice(0, 7) }],
            },
          }
        : {}),
    }))
    drawn.setOption(
      {
        animation: false,
        aria: {
          enabled: true,
          label: { description: `${label} as a chart; the table beside it has the same numbers.` },
        },
        textStyle: { fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 11, color: quiet },
        grid: { left: 12, right: 18, top: 8, bottom: 4, containLabel: true },
        tooltip: { trigger: 'axis', confine: true, textStyle: { fontSize: 12 }, axisPointer: { type: 'shadow' } },
        xAxis: lying ? amounts : names,
        yAxis: lying ? names : amounts,
        series,
      },
      true,
    )
    const onClick = ({ dataIndex }: { dataIndex?: number }) => {
      const pair = dataIndex === undefined ? undefined : shown[dataIndex]
      if (pair) picked.current(pair)
    }
    drawn.on('click', onClick as never)
    return () => void drawn.off('click')
  }, [pairs, value, label, sort, day, days])

  return (
    <div tabIndex={0} role="group" aria-label="Chart" className="min-h-0 flex-1 overflow-y-auto">
      <div ref={frame} className="h-full" data-testid="chart" />
    </div>
  )
}
