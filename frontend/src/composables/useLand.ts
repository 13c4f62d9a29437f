/** The shapes of land as paths on a sheet of 1000 by 1000; the finer ones come when one looks closer. */
import { geoGraticule10, geoMercator, geoPath } from 'd3-geo'
import { onMounted, ref, watch } from 'vue'

const SIDE = 1000
/** As many pixels as the sheet is wide where the coarse shapes end to be good enough. */
const FINE_FROM = 2600
const projection = geoMercator()
  .scale(SIDE / (2 * Math.PI))
  .translate([SIDE / 2, SIDE / 2])
const path = geoPath(projection).digits(4)

async function drawn(isFine: boolean): Promise<string> {
  const [{ feature }, shapes] = await Promise.all([
    import('topojson-client'),
    isFine ? import('world-atlas/land-50m.json') : import('world-atlas/land-110m.json'),
  ])
  const land = shapes.default as unknown as Parameters<typeof feature>[0]
  const shape = land.objects.land
  return shape ? (path(feature(land, shape)) ?? '') : ''
}

/** The land, and the net of meridians and parallels, as a path's data. */
export function useLand(scale: () => number) {
  const land = ref('')
  const isFine = ref(false)
  onMounted(async () => {
    const coarse = await drawn(false)
    if (!isFine.value || !land.value) land.value = coarse
  })
  watch(
    () => scale() > FINE_FROM,
    async (wanted) => {
      if (!wanted || isFine.value) return
      isFine.value = true
      land.value = await drawn(true)
    },
    { immediate: true },
  )
  return { land, net: path(geoGraticule10()) ?? '', side: SIDE }
}
