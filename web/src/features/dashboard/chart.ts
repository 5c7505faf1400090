// How lines are drawn, in the colours that the page has: as the charts' package takes it.
import type { EChartsCoreOption } from 'echarts/core'
import type { Dots } from '@/api/types'
import type { Series } from './board'

export interface Colours {
  ink: string
  quiet: string
  line: string
  lines: string[]
}

/** Of a single line the accent; of several, those of their options, or one after the other. */
const IN_TURN = ['moss', 'slate', 'bracken', 'plum', 'sky', 'gorse', 'fern', 'clay']

/** The hue of one of several: its option’s, or the next in turn. */
export const hueOf = (hue: string | null | undefined, n: number) => hue ?? IN_TURN[n % IN_TURN.length]!

/** The colours as they are on the page now: what draws charts knows no variables. `_`: read again when it turns dark. */
export function coloursOf(series: readonly Series[], box: Element | undefined, _: boolean): Colours {
  const style = box && getComputedStyle(box)
  // A colour that differs by theme is only one once it is worn by something.
  const probe = box?.ownerDocument.createElement('span')
  if (probe) box!.append(probe)
  const worn = (name: string) => {
    if (!probe || !style) return '#888'
    probe.style.color = `var(--${name})`
    return getComputedStyle(probe).color || '#888'
  }
  const of = (one: Series, n: number) => worn(series.length === 1 ? (one.hue ?? 'moss') : hueOf(one.hue, n))
  const colours = { ink: worn('ink'), quiet: worn('quiet'), line: worn('line'), lines: series.map(of) }
  probe?.remove()
  return colours
}

/** How what is told at a point is set. */
const TIP = {
  backgroundColor: 'transparent',
  borderWidth: 0,
  padding: 0,
  extraCssText: 'background: var(--sheet); color: var(--ink); border: 1px solid var(--line-strong); padding: 6px 10px; box-shadow: none',
}

export function optionOf({ along, series }: { along: string[]; series: Series[] }, colours: Colours, laid: boolean): EChartsCoreOption {
  const label = { color: colours.quiet, fontSize: 12, fontFamily: 'inherit' }
  return {
    animation: false,
    // The heads of the table beneath are its axis: its points stand over them.
    grid: { left: 96, right: 0, top: 14, bottom: 6 },
    tooltip: {
      ...TIP,
      trigger: 'axis',
      formatter: (points: { dataIndex: number }[]) => tipOf(along, series, points[0]?.dataIndex ?? 0),
    },
    xAxis: {
      type: 'category',
      data: along,
      axisLabel: { show: false },
      axisTick: { show: false },
      axisLine: { lineStyle: { color: colours.quiet } },
    },
    yAxis: { type: 'value', axisLabel: label, minInterval: 1, splitNumber: 4, splitLine: { lineStyle: { color: colours.line } } },
    series: series.map((one, n) => ({
      type: 'line',
      name: one.name,
      data: one.values,
      stack: laid ? 'all' : undefined,
      areaStyle: laid ? { opacity: 0.55 } : undefined,
      symbol: 'circle',
      symbolSize: 6,
      lineStyle: { color: colours.lines[n], width: 2 },
      itemStyle: { color: colours.lines[n] },
    })),
  }
}

/** A dot for each record, by two numbers. */
export function dotsOption({ across, up, dots }: Dots, colours: Colours): EChartsCoreOption {
  const text = { color: colours.quiet, fontSize: 12, fontFamily: 'inherit' }
  const axis = (name: string, nameGap: number) => ({
    type: 'value',
    name,
    nameLocation: 'middle',
    nameGap,
    nameTextStyle: text,
    axisLabel: text,
    splitNumber: 4,
    splitLine: { lineStyle: { color: colours.line } },
    axisLine: { show: true, lineStyle: { color: colours.quiet } },
  })
  return {
    animation: false,
    grid: { left: 52, right: 12, top: 14, bottom: 44 },
    tooltip: {
      ...TIP,
      trigger: 'item',
      formatter: ({ dataIndex }: { dataIndex: number }) => {
        const dot = dots[dataIndex]
        return tipOfLines(dot ? [dot.name, `${across}: ${dot.x_text}`, `${up}: ${dot.y_text}`] : [])
      },
    },
    xAxis: axis(across, 26),
    yAxis: axis(up, 36),
    series: [
      {
        type: 'scatter',
        data: dots.map((dot) => [Number(dot.x), Number(dot.y)]),
        symbolSize: 8,
        itemStyle: { color: colours.ink, opacity: 0.45 },
        emphasis: { itemStyle: { opacity: 1 } },
      },
    ],
  }
}

/** What is told at a point: as elements, so that no name is taken for anything but words. */
export function tipOf(along: readonly string[], series: readonly Series[], at: number): HTMLElement {
  const told = series.map((one) => (one.name ? `${one.name} ${one.texts[at] ?? ''}` : (one.texts[at] ?? '')))
  return tipOfLines([along[at] ?? '', ...told])
}

/** Lines of words, the first of them strong. */
function tipOfLines(lines: readonly string[]): HTMLElement {
  const tip = document.createElement('div')
  lines.forEach((text, n) => {
    const row = tip.appendChild(document.createElement('div'))
    row.textContent = text
    if (!n) row.style.fontWeight = '600'
  })
  return tip
}
