/** A made-up message, and in which unit a person who knows the trade would take each of its fields; null for none. */
export interface CorpusEntry {
  readonly message: Readonly<Record<string, unknown>>
  readonly units: Readonly<Record<string, string | null>>
}

/**
 * Forty messages as boards send them, written before there was anything that guesses their units. They stay as they are: what
 * guesses is measured by them.
 */
export const unitCorpus: readonly CorpusEntry[] = [
  { message: { temperature: 21.5, humidity: 48 }, units: { '/temperature': 'Cel', '/humidity': '%' } },
  { message: { temp: 4.2, hum: 91.3, bat: 3.71 }, units: { '/temp': 'Cel', '/hum': '%', '/bat': 'V' } },
  { message: { t: 1764, tempC: 12.1, rh: 77 }, units: { '/tempC': 'Cel', '/rh': '%' } },
  { message: { temp_f: 68.4, humidity_pct: 40 }, units: { '/temp_f': '[degF]', '/humidity_pct': '%' } },
  {
    message: { pressure: 101325, temperature: 9.8 },
    units: { '/pressure': 'Pa', '/temperature': 'Cel' },
  },
  { message: { pressure: 1013.2, dewpoint: 7.7 }, units: { '/pressure': 'hPa', '/dewpoint': 'Cel' } },
  { message: { press_kpa: 99.8, alt: 212 }, units: { '/press_kpa': 'kPa', '/alt': 'm' } },
  { message: { barometer: 987, rain_mm: 1.2 }, units: { '/barometer': 'hPa', '/rain_mm': 'mm' } },
  { message: { co2: 812, temp: 21 }, units: { '/co2': '[ppm]', '/temp': 'Cel' } },
  { message: { co2_ppm: 1450, voc_ppb: 220 }, units: { '/co2_ppm': '[ppm]', '/voc_ppb': '[ppb]' } },
  {
    message: { pm2_5: 11, pm10: 19, pm1: 7 },
    units: { '/pm2_5': 'ug/m3', '/pm10': 'ug/m3', '/pm1': 'ug/m3' },
  },
  { message: { pm25: 8.4, nh3: 3.1 }, units: { '/pm25': 'ug/m3', '/nh3': '[ppm]' } },
  { message: { lux: 812, uv: 3.2 }, units: { '/lux': 'lx', '/uv': null } },
  { message: { light: 15400, cloud: true }, units: { '/light': 'lx' } },
  { message: { battery: 87, rssi: -71 }, units: { '/battery': '%', '/rssi': 'dB{mW}' } },
  {
    message: { batt_mv: 3710, rssi: -94, snr: 7.5 },
    units: { '/batt_mv': 'mV', '/rssi': 'dB{mW}', '/snr': 'dB' },
  },
  { message: { vbat: 12.61, vpanel: 18.2 }, units: { '/vbat': 'V', '/vpanel': 'V' } },
  {
    message: { voltage: 231.4, current: 1.82, power: 402 },
    units: { '/voltage': 'V', '/current': 'A', '/power': 'W' },
  },
  { message: { u: 48.1, i_ma: 320 }, units: { '/u': 'V', '/i_ma': 'mA' } },
  { message: { energy_kwh: 1204.71, freq: 49.98 }, units: { '/energy_kwh': 'kW.h', '/freq': 'Hz' } },
  { message: { energy: 88123, pf: 0.94 }, units: { '/energy': 'W.h', '/pf': null } },
  { message: { compressor: { current: 4.1, on: true } }, units: { '/compressor/current': 'A' } },
  { message: { probes: { top: { temperature: 4.1 } } }, units: { '/probes/top/temperature': 'Cel' } },
  { message: { wind_speed: 4.2, wind_dir: 270 }, units: { '/wind_speed': 'm/s', '/wind_dir': 'deg' } },
  {
    message: { windKmh: 22, gustKmh: 41, windBearing: 190 },
    units: { '/windKmh': 'km/h', '/gustKmh': 'km/h', '/windBearing': 'deg' },
  },
  { message: { rain: 0.4, rain_rate: 2.1 }, units: { '/rain': 'mm', '/rain_rate': 'mm/h' } },
  { message: { distance_cm: 88.1 }, units: { '/distance_cm': 'cm' } },
  { message: { distance: 912 }, units: { '/distance': 'mm' } },
  { message: { level_m: 1.41, volume_l: 812 }, units: { '/level_m': 'm', '/volume_l': 'L' } },
  { message: { flow: 4.1, volume: 120 }, units: { '/flow': 'L/min', '/volume': 'L' } },
  { message: { ph: 6.81, ec: 1.4 }, units: { '/ph': '[pH]', '/ec': 'mS/cm' } },
  { message: { ec_us: 880, orp: 310 }, units: { '/ec_us': 'uS/cm', '/orp': 'mV' } },
  { message: { soil_moisture: 31, soil_temp: 9.9 }, units: { '/soil_moisture': '%', '/soil_temp': 'Cel' } },
  { message: { weight: 12.41, tare: 2 }, units: { '/weight': 'kg', '/tare': 'kg' } },
  { message: { mass_g: 412 }, units: { '/mass_g': 'g' } },
  { message: { ax: 0.02, ay: -0.01, az: 9.79 }, units: { '/ax': 'm/s2', '/ay': 'm/s2', '/az': 'm/s2' } },
  {
    message: { accel: { x: 0.01, y: 0.02, z: 0.99 } },
    units: { '/accel/x': '[g]', '/accel/y': '[g]', '/accel/z': '[g]' },
  },
  { message: { uptime: 81234, heap: 182044 }, units: { '/uptime': 's', '/heap': 'By' } },
  { message: { rpm: 1420, duty: 55 }, units: { '/rpm': '/min', '/duty': '%' } },
  {
    message: { noise_db: 54.2, count: 12, errors: 0 },
    units: { '/noise_db': 'dB[SPL]', '/count': null, '/errors': null },
  },
]
