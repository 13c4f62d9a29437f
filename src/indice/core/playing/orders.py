"""What the encoder is told for a track: its arguments, as values. Pure; nothing is started here."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from .decide import PicturePlan, SoundPlan
from .streams import Sound, Streams, Video
from .timeline import SOUND_FRAME, SOUND_RATE, Timeline

__all__ = ["LEAD_SECONDS", "Encoder", "Order", "picture_order", "sound_order", "text_order"]

WARM_FRAMES = 3
"""Packets of sound that are encoded and thrown away when the encoder starts in the middle: its window reaches back."""
SEEK_MARGIN_SECONDS = 0.25
LEAD_SECONDS = 0.3
"""So long before the moment that somebody jumped to are all pictures there."""
SEEK_REACH_SECONDS = 0.14
"""ffmpeg looks for a key frame up to so long (3/23 s) before where it was told to,
for the sake of pictures out of order."""
THIN_STEP = 6
"""Of the pictures before that one in so many is made: who jumped waits for them, and
sees them only who goes back at once."""
_TAIL = (
    *("-map_metadata", "-1", "-map_chapters", "-1", "-sn", "-dn", "-strict", "experimental"),
    *("-avoid_negative_ts", "disabled", "-use_editlist", "0", "-max_muxing_queue_size", "4096", "-flush_packets", "1"),
)


@dataclass(frozen=True, slots=True)
class Order:
    """Arguments before the file's name and after it, and how samples become segments."""

    before: tuple[str, ...]
    after: tuple[str, ...]
    first: int
    """The segment that it begins with."""
    slack_seconds: float
    """So much earlier than the playlist says a segment may begin."""
    cuts_at_sync: bool
    full_seconds: float = 0.0
    """Until here the first segment holds few pictures, so that it is not for keeping; 0: it holds all."""


@dataclass(frozen=True, slots=True)
class Encoder:
    """An encoder of H.264 that the machine has beside the one in software."""

    codec: str
    before: tuple[str, ...] = ()
    """Arguments before the file's name."""
    tail: str = ""
    """Filters that bring pictures to it."""
    quality: tuple[str, ...] = ()


def _fragments(*, late: bool = False) -> tuple[str, ...]:
    """One fragment a sample; `late` for codecs whose head is known only when a packet was seen."""
    head = "delay_moov" if late else "empty_moov"
    flags = f"frag_every_frame+{head}+default_base_moof+frag_discont"
    return (*_TAIL, "-f", "mp4", "-movflags", flags, "pipe:1")


def _seek(seconds: float) -> tuple[str, ...]:
    return ("-ss", f"{seconds:.6f}") if seconds > 0 else ()


_BEFORE = ("-fflags", "+genpts", "-copyts", "-start_at_zero")


def picture_order(
    streams: Streams,
    plan: PicturePlan,
    timeline: Timeline,
    first: int,
    *,
    words: int | None = None,
    encoder: Encoder | None = None,
    moment: float | None = None,
    key: float | None = None,
    words_since: float | None = None,
) -> Order:
    """How the picture is made from a segment on.

    `words`: the stream of picture subtitles to be drawn into it; `words_since`: what of it is shown where the segment
    begins has stood since then, and reading begins there. `encoder`: one of the machine, in place of software.
    `moment`: what somebody waits for in the first segment, in seconds of the file; what lies before it is made thinly.
    `key`: a key frame before that moment, with which reading may begin: what of
    the segment lies before it stands still.
    """
    video = streams.video
    assert video is not None
    begin = timeline.starts[first]
    frame = float(1 / Fraction(*plan.rate))
    if plan.how == "copy":
        tag = ("-tag:v", "hvc1") if video.codec == "hevc" else ()
        after = ("-map", f"0:{video.index}", "-an", "-c:v", "copy", *tag, *_fragments())
        return Order((*_BEFORE, *_seek(begin + frame / 2 if first else 0.0)), after, first, frame * 1.5, True)
    frames = timeline.frames or round(6 / frame)
    full = _full_from(moment, begin, frame, frames) if encoder is None else 0
    thin = f",select='gte(n,{full})+not(mod(n,{THIN_STEP}))'" if full else ""
    tail = f",{encoder.tail}" if encoder is not None and encoder.tail else ""
    count = frames - full + -(-full // THIN_STEP)
    after = (
        *("-filter_complex", _graph(video, plan, begin, words, thin) + f"{tail}[made]", "-map", "[made]", "-an"),
        *("-fps_mode", "passthrough", "-t", f"{timeline.end:.6f}", *_made_by(encoder, plan, frames, count)),
        *("-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709", "-color_range", "tv"),
        *_fragments(),
    )
    from_ = begin if words_since is None else min(begin, words_since)
    seek = _seek(from_ - frame / 2 if first else 0.0)
    if words_since is None and full and key is not None and begin < key <= begin + full * frame:
        seek = ("-noaccurate_seek", *_seek(key + SEEK_REACH_SECONDS))
    before = (*(encoder.before if encoder is not None else ()), *_BEFORE)
    return Order((*before, *seek), after, first, frame / 2, True, begin + full * frame if full else 0.0)


def _full_from(moment: float | None, begin: float, frame: float, frames: int) -> int:
    """From which picture of a segment on all are made; 0 where somebody waits
    for its beginning, or for nothing in it."""
    if moment is None or not begin <= moment < begin + frames * frame:
        return 0
    full = int((moment - LEAD_SECONDS - begin) / frame)
    return full if full > THIN_STEP else 0


def _graph(video: Video, plan: PicturePlan, begin: float, words: int | None, thin: str) -> str:
    """The filters of the picture, words drawn into it where they are pictures."""
    source = f"[0:{video.index}]"
    if words is None:
        return source + _filters(video, plan, begin, thin)
    size = f"{video.width}:{video.height}" if video.turn not in (90, 270) else f"{video.height}:{video.width}"
    return (
        f"[0:{words}]scale={size}[words];{source}trim=start={max(begin - 1, 0):.6f},{_deinterlaced(video)}[bare];"
        f"[bare][words]overlay=eof_action=pass:repeatlast=0,{_filters(video, plan, begin, thin, deinterlace=False)}"
    )


def _made_by(encoder: Encoder | None, plan: PicturePlan, frames: int, count: int) -> tuple[str, ...]:
    """Which encoder, and how; a key frame at the beginning of each segment and nowhere else.

    `frames`: pictures of a segment; `count`: those of the first one.
    """
    always = ("-bf", "0", "-g", f"{frames}")
    if encoder is not None:
        return ("-c:v", encoder.codec, *encoder.quality, *always, "-force_key_frames", f"expr:not(mod(n,{frames}))")
    forced = f"expr:not(n)+gte(n,{count})*not(mod(n-{count},{frames}))"
    return (
        *("-c:v", "libx264", "-preset", _preset(plan), "-profile:v", plan.profile),
        *("-level:v", f"{plan.level / 10:.1f}", *always, "-sc_threshold", "0"),
        *(("-keyint_min", f"{frames}") if count == frames else ("-force_key_frames", forced)),
        *_quality(plan),
    )


def _preset(plan: PicturePlan) -> str:
    """So much care as two cores have time for."""
    work = plan.width * plan.height * float(Fraction(*plan.rate))
    return "veryfast" if work < 14_000_000 else "superfast" if work < 30_000_000 else "ultrafast"


def _quality(plan: PicturePlan) -> tuple[str, ...]:
    if plan.kbps is None:
        most = max(round(plan.width * plan.height * float(Fraction(*plan.rate)) * 0.00022), 600)
        return ("-crf", "22", "-maxrate", f"{most}k", "-bufsize", f"{most * 2}k")
    return ("-crf", "23", "-maxrate", f"{plan.kbps}k", "-bufsize", f"{plan.kbps}k")


def _deinterlaced(video: Video) -> str:
    return "yadif=mode=send_frame" if video.is_interlaced else "null"


def _filters(video: Video, plan: PicturePlan, begin: float, thin: str, *, deinterlace: bool = True) -> str:
    """From pictures as they are stored to pictures as they are served: progressive, in square pixels, of BT.709.

    `thin`: the filter that leaves pictures out, which the costly ones need not see.
    """
    chain = [_deinterlaced(video)] if deinterlace and video.is_interlaced else []
    rate = f"fps=fps={plan.rate[0]}/{plan.rate[1]}:start_time={begin:.6f}:round=near"
    chain.append(rate + thin)
    if video.transfer != "sdr":
        transfer = "smpte2084" if video.transfer == "pq" else "arib-std-b67"
        chain += [
            f"scale={plan.width}:{plan.height}:flags=bilinear",
            f"zscale=tin={transfer}:min=bt2020nc:pin=bt2020:t=linear:npl=200",
            "format=gbrpf32le",
            "zscale=p=bt709",
            "tonemap=tonemap=mobius:desat=0",
            "zscale=t=bt709:m=bt709:r=tv",
        ]
    else:
        matrix = video.matrix or ("bt709" if video.height >= 700 else "bt601")
        given = "" if matrix == "rgb" else f":in_color_matrix={matrix if matrix != 'bt2020' else 'bt2020'}"
        span = ":in_range=pc" if video.is_full_range and matrix != "rgb" else ""
        chain.append(f"scale={plan.width}:{plan.height}:flags=bicubic{given}{span}:out_color_matrix=bt709:out_range=tv")
    return ",".join([*chain, "format=yuv420p", "setsar=1", "tpad=stop=-1:stop_mode=clone"])


def sound_order(sound: Sound, plan: SoundPlan, timeline: Timeline, first: int) -> Order:
    """How a sound track is made from a segment on."""
    begin = timeline.starts[first]
    if plan.how == "copy":
        after = ("-map", f"0:{sound.index}", "-vn", "-c:a", "copy", *_unpacked(sound))
        slack = (sound.frame_seconds or 0.02) / 2
        return Order(
            (*_BEFORE, *_seek(begin - SEEK_MARGIN_SECONDS if first else 0.0)),
            (*after, *_fragments(late=True)),
            first,
            slack,
            False,
        )
    packet = SOUND_FRAME[plan.codec]
    wanted = round(begin * SOUND_RATE) - (WARM_FRAMES * packet if first else 0)
    layout = "mono" if plan.channels == 1 else "stereo"
    mix = "clev=1:slev=0.5:lfe_mix_level=0.25:" if sound.channels > 2 else ""
    chain = f"aresample=osr={SOUND_RATE}:ochl={layout}:{mix}async=1:first_pts={wanted},apad"
    after = (
        *("-map", f"0:{sound.index}", "-vn", "-af", chain, "-t", f"{timeline.end:.6f}"),
        *("-c:a", "aac" if plan.codec == "aac" else "libopus", "-b:a", "96k" if plan.channels == 1 else "192k"),
        *_fragments(),
    )
    seek = wanted / SOUND_RATE - SEEK_MARGIN_SECONDS
    return Order((*_BEFORE, *_seek(seek if first else 0.0)), after, first, packet / SOUND_RATE / 2, False)


def _unpacked(sound: Sound) -> tuple[str, ...]:
    return ("-bsf:a", "aac_adtstoasc") if sound.codec == "aac" else ()


def text_order(stream: int) -> Order:
    """How a text track inside a file is taken out, as ASS, which keeps place and slant."""
    return Order((), ("-map", f"0:{stream}", "-vn", "-an", "-c:s", "ass", "-f", "ass", "pipe:1"), 0, 0.0, False)
