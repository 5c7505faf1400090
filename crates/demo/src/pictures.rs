//! Pictures drawn by us: a sky, two hills, a meadow, and the thing that is wrong.

use crate::dice;
use image::{ExtendedColorType, ImageEncoder, Rgb, RgbImage, codecs::jpeg::JpegEncoder};
use westerfall_core::value::Attachment;

const WIDTH: u32 = 480;
const HEIGHT: u32 = 320;
const TIMBER: Rgb<u8> = Rgb([90, 68, 51]);

/// A picture of something of this kind; the same for the same seed.
pub(crate) fn picture(id: &str, seed: usize, kind: usize) -> (Attachment, Vec<u8>) {
    let mut image = landscape(seed);
    match kind % 6 {
        0 => fallen_tree(&mut image, seed),
        1 => bridge(&mut image),
        2 => bar(&mut image, (0, 262), (WIDTH, 262), 24, Rgb([142, 170, 186])),
        3 => signpost(&mut image, seed),
        4 => gate(&mut image),
        _ => bar(&mut image, (200, HEIGHT), (250, 190), 26, Rgb([205, 190, 155])),
    }
    let mut bytes = Vec::new();
    JpegEncoder::new_with_quality(&mut bytes, 82)
        .write_image(&image, WIDTH, HEIGHT, ExtendedColorType::Rgb8)
        .expect("a picture in memory can be encoded");
    // Made-up ids, shaped like those of uploaded files.
    let number = id.bytes().fold(0xcbf2_9ce4_8422_2325_u64, |hash, byte| (hash ^ u64::from(byte)).wrapping_mul(0x100_0000_01b3));
    let id =
        format!("{:08x}-{:04x}-4{:03x}-8{:03x}-{number:012x}", number >> 32, number & 0xffff, number >> 20 & 0xfff, number >> 40 & 0xfff);
    let id = id.chars().take(36).collect();
    (Attachment { id, name: "picture.jpg".into(), media: "image/jpeg".into(), size: bytes.len() as u64 }, bytes)
}

fn landscape(seed: usize) -> RgbImage {
    let phase = dice(seed, 51, 628) as f32 / 100.0;
    let tint = dice(seed, 52, 22) as u8;
    RgbImage::from_fn(WIDTH, HEIGHT, |x, y| {
        let (x, y) = (x as f32, y as f32);
        let far = 130.0 + 34.0 * (x / 74.0 + phase).sin() + 14.0 * (x / 31.0 + 2.0 * phase).sin();
        let near = 196.0 + 22.0 * (x / 120.0 - phase).sin();
        match y {
            y if y > near + 40.0 => Rgb([96 + tint, 116 + tint, 74]),
            y if y > near => Rgb([122 + tint, 138 + tint, 96]),
            y if y > far => Rgb([157, 174 - tint, 148]),
            _ => Rgb([220 - tint, 229 - tint / 2, 228]),
        }
    })
}

/// A straight bar of some thickness between two points.
fn bar(image: &mut RgbImage, from: (u32, u32), to: (u32, u32), thick: i32, colour: Rgb<u8>) {
    let steps = from.0.abs_diff(to.0).max(from.1.abs_diff(to.1)).max(1);
    for step in 0..=steps {
        let along = |a: u32, b: u32| (a as f32 + (b as f32 - a as f32) * step as f32 / steps as f32) as i32;
        let (x, y) = (along(from.0, to.0), along(from.1, to.1));
        for (dx, dy) in (0..thick * thick).map(|n| (n % thick - thick / 2, n / thick - thick / 2)) {
            if let (Ok(x), Ok(y)) = (u32::try_from(x + dx), u32::try_from(y + dy))
                && x < WIDTH
                && y < HEIGHT
            {
                image.put_pixel(x, y, colour);
            }
        }
    }
}

fn gate(image: &mut RgbImage) {
    for x in [150, 330] {
        bar(image, (x, 170), (x, 290), 12, TIMBER);
    }
    for y in [186, 214, 242, 270] {
        bar(image, (150, y), (330, y), 7, TIMBER);
    }
    bar(image, (154, 272), (326, 184), 7, TIMBER);
}

fn bridge(image: &mut RgbImage) {
    bar(image, (0, 290), (WIDTH, 280), 34, Rgb([122, 152, 168]));
    bar(image, (90, 246), (390, 240), 14, TIMBER);
    for x in [110, 200, 290] {
        bar(image, (x, 190), (x, 246), 8, TIMBER);
    }
    bar(image, (110, 192), (214, 190), 7, TIMBER);
}

fn fallen_tree(image: &mut RgbImage, seed: usize) {
    let tilt = dice(seed, 53, 50) as u32;
    bar(image, (60, 236 + tilt), (410, 250), 22, Rgb([104, 82, 62]));
    for x in [280, 330, 370, 400] {
        bar(image, (x, 248), (x + 30, 196 + tilt / 2), 6, Rgb([82, 104, 62]));
        bar(image, (x, 248), (x + 26, 290), 6, Rgb([82, 104, 62]));
    }
}

fn signpost(image: &mut RgbImage, seed: usize) {
    let lean = dice(seed, 54, 60) as u32;
    bar(image, (230, 292), (210 + lean, 120), 12, TIMBER);
    bar(image, (214 + lean, 136), (320 + lean, 150), 20, Rgb([196, 178, 140]));
}

/// The team's mark: a waymark post with two arms, drawn as lines on nothing.
pub(crate) fn mark() -> (Attachment, Vec<u8>) {
    const SIDE: u32 = 240;
    let inked = |x: u32, y: u32| {
        let near = |edge: u32, at: u32| at.abs_diff(edge) < 6;
        let post = near(112, x) && (20..222).contains(&y);
        // An arm is a board that ends in a point, at one side of the post or the other.
        let arm = |top: u32, from: u32, to: u32, right: bool| {
            let within = (top..top + 44).contains(&y);
            let point = (top + 22).abs_diff(y) / 2;
            let (left, end) = if right { (from, to - point) } else { (from + point, to) };
            let edges = near(top + 3, y) || near(top + 41, y) || near(left, x) || near(end, x);
            within && (left..=end).contains(&x) && edges
        };
        post || arm(46, 112, 214, true) || arm(112, 22, 112, false) || near(220, y) && (86..138).contains(&x)
    };
    let image = image::RgbaImage::from_fn(SIDE, SIDE, |x, y| image::Rgba(if inked(x, y) { [46, 72, 44, 255] } else { [0, 0, 0, 0] }));
    let mut bytes = Vec::new();
    image::codecs::png::PngEncoder::new(&mut bytes)
        .write_image(&image, SIDE, SIDE, ExtendedColorType::Rgba8)
        .expect("a picture in memory can be encoded");
    (
        Attachment { id: "the-mark-of-the-demo-team".into(), name: "mark.png".into(), media: "image/png".into(), size: bytes.len() as u64 },
        bytes,
    )
}
