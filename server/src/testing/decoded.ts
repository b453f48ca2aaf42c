import { execFileSync } from 'node:child_process'

interface Stream {
  codec_name: string
  codec_tag_string: string
  profile?: string
  pix_fmt: string
  width: number
  height: number
  r_frame_rate: string
  nb_read_frames: string
  color_space?: string
  color_primaries?: string
  color_transfer?: string
  color_range?: string
  field_order?: string
  codec_type: string
  tags?: Record<string, string>
}

/** A file as ffprobe reads it, every frame counted. */
export function probed(file: string): {
  streams: Stream[]
  chapters: { start_time: string; end_time: string; tags: { title: string } }[]
} {
  const args = ['-v', 'error', '-count_frames', '-show_streams', '-show_chapters', '-of', 'json', file]
  return JSON.parse(execFileSync('ffprobe', args, { encoding: 'utf8' }))
}

/** What mediainfo says of a file's first picture track. */
export function mediaFacts(file: string): Record<string, string> {
  const told = JSON.parse(execFileSync('mediainfo', ['--Output=JSON', file], { encoding: 'utf8' }))
  return told.media.track.find((track: Record<string, string>) => track['@type'] === 'Video')
}

/** A file's frames as raw pixels. */
export function rawFrames(file: string, pixels: string, filter?: string): Buffer {
  const how = filter ? ['-vf', filter] : []
  const decoder = file.endsWith('.webm') ? ['-c:v', 'libvpx-vp9'] : []
  const out = ['-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', pixels, '-']
  return execFileSync('ffmpeg', ['-v', 'error', ...decoder, '-i', file, ...how, ...out], { maxBuffer: 1 << 30 })
}

/** BT.709 in limited range as full-range RGB. */
export const asRgb =
  'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=accurate_rnd+full_chroma_int+full_chroma_inp+bicubic'
