// How lines are drawn, in the colours that the page has: as the charts' package takes it.
import type { EChartsCoreOption } from 'echarts/core'
import type { Series } from './board'

export interface Colours {
  ink: string
  quiet: string
  line: string
  lines: string[]
}

/** Of a single line the accent; of several, those of their options, or one after the other. */
const IN_TURN = ['moss', 'slate', 'bracken', 'plum', 'sky', 'gorse', 'fern', 'clay']

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
  const of = (one: Series, n: number) => worn(one.hue ?? (series.length === 1 ? 'moss' : IN_TURN[n % IN_TURN.length]!))
  const colours = { ink: worn('ink'), quiet: worn('quiet'), line: worn('line'), lines: series.map(of) }
  probe?.remove()
  return colours
}

export function optionOf({ along, series }: { along: string[]; series: Series[] }, colours: Colours, laid: boolean): EChartsCoreOption {
  const label = { color: colours.quiet, fontSize: 12, fontFamily: 'inherit' }
  return {
    animation: false,
    // The heads of the table beneath are its axis: its points stand over them.
    grid: { left: 96, right: 0, top: 14, bottom: 6 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: 'transparent',
      borderWidth: 0,
      padding: 0,
      extraCssText:
        'background: var(--sheet); color: var(--ink); border: 1px solid var(--line-strong); padding: 6px 10px; box-shadow: none',
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

/** What is told at a point: as elements, so that no name is taken for anything but words. */
export function tipOf(along: readonly string[], series: readonly Series[], at: number): HTMLElement {
  const tip = document.createElement('div')
  const line = (text: string, strong = false) => {
    const row = tip.appendChild(document.createElement('div'))
    row.textContent = text
    if (strong) row.style.fontWeight = '600'
  }
  line(along[at] ?? '', true)
  for (const one of series) line(one.name ? `${one.name} ${one.texts[at] ?? ''}` : (one.texts[at] ?? ''))
  return tip
}
