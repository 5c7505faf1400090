import { afterEach, describe, expect, it, vi } from 'vitest'
import { computed, defineComponent, h, ref } from 'vue'
import { answering, opened, put, settled } from '@/testing'
import { useDesign } from './design'

afterEach(() => vi.unstubAllGlobals())

async function drawn(wanted?: () => boolean) {
  const asked = answering({ 'GET /api/trackers/1/tables/3/design': { name: 'Faults', fields: [], binned: [] } })
  let steps!: ReturnType<typeof useDesign>
  const page = defineComponent({
    setup() {
      steps = useDesign(ref(1), ref(3), wanted)
      return () => h('p')
    },
  })
  put(page, {}, opened({ builds: true, tables: [] } as never))
  await settled()
  const times = () => asked.filter((one) => one.path.endsWith('/design')).length
  return { steps, times }
}

describe('the design of a table', () => {
  it('is read where it is shown', async () => {
    const { steps, times } = await drawn()
    expect([times(), steps.design.value?.name]).toEqual([1, 'Faults'])
  })

  it('is not read by a page that may come to show it before it does, and anew each time that it does', async () => {
    const open = ref(false)
    const { steps, times } = await drawn(() => computed(() => open.value).value)
    expect([times(), steps.design.value]).toEqual([0, undefined])
    open.value = true
    await settled()
    expect([times(), steps.design.value?.name]).toEqual([1, 'Faults'])
    open.value = false
    await settled()
    // What was read then is not taken for what stands now.
    expect(steps.design.value).toBeUndefined()
    open.value = true
    await settled()
    expect(times()).toBe(2)
  })
})
