//! Pictures from outside, made safe to keep: decoded, turned upright, made no larger than needed, and written anew
//! without anything but pixels: no place, no time, no device.
//!
//! A drawing is a small program: what it asks for may exhaust stack, memory and time. So [`draw`] is for a process of its
//! own, which may die of it; what it draws is then taken like any other picture.

use std::io::Cursor;

use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits};
use resvg::usvg;

/// Largest file taken, in bytes.
pub const MOST_BYTES: usize = 12 << 20;
/// Longest side kept, in pixels: a label stays readable, a house of a hundred pictures stays a file one can copy.
const LONGEST_SIDE: u32 = 2400;
/// Longest side taken in, in pixels, and memory for it: a small file may claim to be an enormous picture.
const MOST_PIXELS: u32 = 16_000;
const MOST_MEMORY: u64 = 512 << 20;
const JPEG_QUALITY: u8 = 85;

/// A picture as it is kept.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Prepared {
    /// `image/jpeg` for photographs, `image/png` for drawings.
    pub kind: &'static str,
    /// The file.
    pub bytes: Vec<u8>,
    /// Width in pixels.
    pub width: u32,
    /// Height in pixels.
    pub height: u32,
}

/// Why a picture is not taken.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum BadPicture {
    /// Larger than allowed.
    #[error("the file has {} MB; at most {} MB, please", .0.div_ceil(1 << 20), MOST_BYTES >> 20)]
    TooLarge(usize),
    /// Not one of the kinds that can be read.
    #[error("this is no JPEG, PNG, WebP or SVG file")]
    Unknown,
    /// A drawing that asks for too much.
    #[error("this drawing is too complicated: send a picture of it (PNG or JPEG)")]
    TooComplicated,
    /// Broken, or too many pixels.
    #[error("the picture cannot be read: {0}")]
    Broken(String),
}

/// Makes a picture ready to be kept. The kind is told by the bytes, not by a name. A drawing has to be drawn first.
///
/// # Errors
/// [`BadPicture`] says why it is not taken.
pub fn prepare(bytes: &[u8]) -> Result<Prepared, BadPicture> {
    if bytes.len() > MOST_BYTES {
        return Err(BadPicture::TooLarge(bytes.len()));
    }
    match image::guess_format(bytes) {
        Ok(format @ (ImageFormat::Jpeg | ImageFormat::Png | ImageFormat::WebP)) => raster(bytes, format),
        _ => Err(BadPicture::Unknown),
    }
}

fn raster(bytes: &[u8], format: ImageFormat) -> Result<Prepared, BadPicture> {
    let broken = |e: image::ImageError| BadPicture::Broken(e.to_string());
    let mut reader = ImageReader::with_format(Cursor::new(bytes), format);
    let mut limits = Limits::default();
    limits.max_image_width = Some(MOST_PIXELS);
    limits.max_image_height = Some(MOST_PIXELS);
    limits.max_alloc = Some(MOST_MEMORY);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(broken)?;
    // A phone writes how it was held instead of turning the pixels.
    let upright = decoder.orientation().map_err(broken)?;
    let mut image = DynamicImage::from_decoder(decoder).map_err(broken)?;
    image.apply_orientation(upright);
    if image.width().max(image.height()) > LONGEST_SIDE {
        image = image.resize(LONGEST_SIDE, LONGEST_SIDE, image::imageops::FilterType::Triangle);
    }
    let (width, height) = (image.width(), image.height());
    let mut out = Vec::new();
    // Photographs come as JPEG; line drawings as PNG stay sharp.
    let kind = if format == ImageFormat::Png {
        image.write_to(&mut Cursor::new(&mut out), ImageFormat::Png).map_err(broken)?;
        "image/png"
    } else {
        JpegEncoder::new_with_quality(&mut out, JPEG_QUALITY).encode_image(&image.to_rgb8()).map_err(broken)?;
        "image/jpeg"
    };
    Ok(Prepared { kind, bytes: out, width, height })
}

/// True for an SVG drawing as plain text. Packed ones are refused: a few bytes may unpack to any size.
#[must_use]
pub fn is_drawing(bytes: &[u8]) -> bool {
    let head = String::from_utf8_lossy(&bytes[..bytes.len().min(1024)]);
    !bytes.starts_with(PACKED) && head.contains("<svg")
}

/// How gzip begins (RFC 1952).
const PACKED: &[u8] = &[0x1f, 0x8b];
/// Elements within elements. Plans drawn by programs stay under forty (common practice); each level takes stack, and a
/// canvas where it is translucent.
const DEEPEST: usize = 100;

/// An SVG drawing as a PNG picture, its text in the typeface of the house: what it could do beyond showing lines is gone.
///
/// # Errors
/// [`BadPicture`] says why it is not drawn. Drawings made to do harm may end the process or never return.
pub fn draw(bytes: &[u8]) -> Result<Vec<u8>, BadPicture> {
    use resvg::tiny_skia::{Color, Pixmap, Transform};
    let broken = |e: &dyn std::fmt::Display| BadPicture::Broken(e.to_string());
    if !is_drawing(bytes) {
        return Err(BadPicture::Unknown);
    }
    let text = std::str::from_utf8(bytes).map_err(|e| broken(&e))?;
    if depth(text).map_err(|e| broken(&e))? > DEEPEST {
        return Err(BadPicture::TooComplicated);
    }
    let options = usvg::Options {
        // Nothing outside the file is opened.
        image_href_resolver: usvg::ImageHrefResolver {
            resolve_data: Box::new(|_, _, _| None),
            resolve_string: Box::new(|_, _| None),
        },
        fontdb: crate::draw::fonts(),
        font_family: "Overpass".into(),
        ..usvg::Options::default()
    };
    let tree = usvg::Tree::from_str(text, &options).map_err(|e| match e {
        usvg::Error::ElementsLimitReached | usvg::Error::ParsingFailed(usvg::roxmltree::Error::NodesLimitReached) => {
            BadPicture::TooComplicated
        }
        other => broken(&other),
    })?;
    let size = tree.size();
    let scale = (LONGEST_SIDE as f32 / size.width().max(size.height())).min(4.0);
    let pixels = |length: f32| ((length * scale).round() as u32).max(1);
    let (width, height) = (pixels(size.width()), pixels(size.height()));
    let mut picture = Pixmap::new(width, height).ok_or_else(|| broken(&"it has no size"))?;
    picture.fill(Color::WHITE);
    resvg::render(&tree, Transform::from_scale(scale, scale), &mut picture.as_mut());
    picture.encode_png().map_err(|e| broken(&e))
}

/// How deep elements stand within elements.
fn depth(text: &str) -> Result<usize, quick_xml::Error> {
    use quick_xml::events::Event;
    let mut reader = quick_xml::Reader::from_str(text);
    let (mut now, mut most) = (0_usize, 0);
    loop {
        match reader.read_event()? {
            Event::Start(_) => now += 1,
            Event::End(_) => now = now.saturating_sub(1),
            Event::Eof => return Ok(most),
            _ => {}
        }
        most = most.max(now);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use image::{Rgb, RgbImage};

    fn written(image: &RgbImage, format: ImageFormat) -> Vec<u8> {
        let mut out = Vec::new();
        DynamicImage::ImageRgb8(image.clone()).write_to(&mut Cursor::new(&mut out), format).unwrap();
        out
    }

    /// Left half red, right half blue.
    fn flag(width: u32, height: u32) -> RgbImage {
        RgbImage::from_fn(width, height, |x, _| if x < width / 2 { Rgb([200, 20, 20]) } else { Rgb([20, 20, 200]) })
    }

    /// An EXIF block that says "turn by a quarter" (orientation 6) and holds a secret, put behind a JPEG's head.
    /// Layout: TIFF 6.0 and EXIF 2.3, from memory.
    fn with_exif(jpeg: &[u8], secret: &str) -> Vec<u8> {
        let mut tiff = b"Exif\0\0MM\0\x2a\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0\x06\0\0\0\0\0\0".to_vec();
        tiff.extend(secret.as_bytes());
        let length = u16::try_from(tiff.len() + 2).unwrap().to_be_bytes();
        [&jpeg[..2], &[0xff, 0xe1], &length, &tiff, &jpeg[2..]].concat()
    }

    fn contains(bytes: &[u8], text: &str) -> bool {
        bytes.windows(text.len()).any(|w| w == text.as_bytes())
    }

    #[test]
    fn a_photograph_is_turned_upright_and_keeps_no_secrets() {
        let secret = "51.4778N 0.0015W";
        let photo = with_exif(&written(&flag(64, 32), ImageFormat::Jpeg), secret);
        assert!(contains(&photo, secret));
        let kept = prepare(&photo).unwrap();
        assert_eq!((kept.kind, kept.width, kept.height), ("image/jpeg", 32, 64));
        assert!(!contains(&kept.bytes, secret) && !contains(&kept.bytes, "Exif"));
        let seen = image::load_from_memory(&kept.bytes).unwrap().to_rgb8();
        assert!(seen.get_pixel(16, 10)[0] > 150 && seen.get_pixel(16, 55)[2] > 150, "red came up, blue down");
    }

    #[test]
    fn large_pictures_are_made_smaller_and_all_kinds_are_read() {
        let kept = prepare(&written(&flag(3000, 1500), ImageFormat::Png)).unwrap();
        assert_eq!((kept.kind, kept.width, kept.height), ("image/png", 2400, 1200));
        let webp = prepare(&written(&flag(40, 40), ImageFormat::WebP)).unwrap();
        assert_eq!((webp.kind, webp.width), ("image/jpeg", 40));
        let svg = br#"<svg xmlns="http://www.w3.org/2000/svg" width="100" height="50"><rect width="100" height="50" fill="red"/></svg>"#;
        assert_eq!(prepare(svg), Err(BadPicture::Unknown), "it has to be drawn first");
        let drawn = prepare(&draw(svg).unwrap()).unwrap();
        assert_eq!((drawn.kind, drawn.width, drawn.height), ("image/png", 400, 200));
    }

    // Text in a typeface that is not there is drawn in ours: a plan without its words is no plan.
    #[test]
    fn text_of_a_drawing_is_drawn_in_the_shipped_typeface() {
        let svg = |family: &str| {
            format!(
                "<svg xmlns='http://www.w3.org/2000/svg' width='200' height='40'>\
                 <text x='4' y='30' font-size='28' font-family='{family}'>Bakehouse</text></svg>"
            )
        };
        let inked = |family: &str| {
            let png = draw(svg(family).as_bytes()).unwrap();
            image::load_from_memory(&png).unwrap().to_luma8().pixels().filter(|p| p[0] < 128).count()
        };
        assert!(inked("Overpass") > 1000, "{}", inked("Overpass"));
        for other in ["Nosuch Grotesk", "serif", "cursive"] {
            assert_eq!(inked(other), inked("Overpass"), "{other}");
        }
    }

    #[test]
    fn a_drawing_that_nests_too_deep_or_is_packed_is_refused() {
        let nested = |depth: usize, with: &str| {
            let (open, close) = (format!("<g {with}>").repeat(depth), "</g>".repeat(depth));
            format!("<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'>{open}{close}</svg>")
        };
        assert!(draw(nested(90, "").as_bytes()).is_ok());
        for drawing in [nested(400, "opacity='0.9'"), nested(900, ""), nested(100_000, "")] {
            assert_eq!(draw(drawing.as_bytes()), Err(BadPicture::TooComplicated));
        }
        // A gzip head (RFC 1952) with a file name that says what it is not.
        let packed = [&[0x1f, 0x8b, 8, 8, 0, 0, 0, 0, 0, 3], &b"<svg\0"[..], &[3, 0, 0, 0, 0, 0, 0, 0, 0, 0]].concat();
        assert!(!is_drawing(&packed));
        assert_eq!((draw(&packed), prepare(&packed)), (Err(BadPicture::Unknown), Err(BadPicture::Unknown)));
    }

    #[test]
    fn what_is_no_picture_says_so() {
        assert_eq!(prepare(b"hello"), Err(BadPicture::Unknown));
        assert!(matches!(prepare(&vec![0; MOST_BYTES + 1]), Err(BadPicture::TooLarge(_))));
        let mut broken = written(&flag(64, 64), ImageFormat::Png);
        broken.truncate(60);
        assert!(matches!(prepare(&broken), Err(BadPicture::Broken(_))));
        assert!(matches!(draw(b"<svg width='0'></svg>"), Err(BadPicture::Broken(_))));
        // A file of a few bytes that claims 60 000 x 60 000 pixels (PNG: width and height stand at bytes 16 and 20).
        let mut bomb = written(&flag(8, 8), ImageFormat::Png);
        bomb[16..24].copy_from_slice(&[0, 0, 0xea, 0x60, 0, 0, 0xea, 0x60]);
        assert!(matches!(prepare(&bomb), Err(BadPicture::Broken(_))));
    }
}
