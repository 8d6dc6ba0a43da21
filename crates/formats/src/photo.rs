//! Photos: taken by content whatever their name says, turned upright, made smaller, and written anew without where they were taken.

use std::io::Cursor;

use image::codecs::jpeg::JpegEncoder;
use image::imageops::FilterType;
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits, RgbImage};
use thiserror::Error;
use windrift_core::ground::told::Told;
use windrift_core::vehicle::square_up::Raster;

/// Largest photo that is taken, bytes.
pub const LARGEST_PHOTO: usize = 20 * 1024 * 1024;
/// Longest edge that is kept of a photo of something, pixels.
pub const LONGEST_EDGE: u32 = 2000;
/// Longest edge that is kept of a photo of a whole side, or of a picture to be printed, pixels: 3 mm each on a side of 53 ft.
pub const LARGE_EDGE: u32 = 6000;
/// Longest edge of the small copy, pixels.
pub const SMALL_EDGE: u32 = 400;
/// Most pixels across or down of a photo that is taken.
const MOST_PIXELS: u32 = 20_000;
/// Most pixels in all: more than phones take, and what they take up in memory stays under 400 MB.
const MOST_IN_ALL: u64 = 64_000_000;
const QUALITY: u8 = 82;

/// A photo that cannot be taken.
#[derive(Debug, Error)]
pub enum PhotoError {
    /// Not a picture by its content.
    #[error(
        "This file is not a photo that Windrift reads, whatever it is called. Choose a JPEG, PNG or WebP; to be printed, a PDF or an SVG too."
    )]
    NotAPhoto,
    /// Larger than is taken.
    #[error("The photo is larger than 20 MB. Take it at a lower resolution, or save it smaller.")]
    TooLarge,
    /// More pixels than are taken.
    #[error(
        "The photo has more pixels than Windrift takes. Save it with 64 million pixels or fewer, and 20 000 across at most."
    )]
    TooManyPixels,
    /// No PDF that can be shown.
    #[error(
        "This PDF cannot be read. Write it anew without a password, or save its page as a picture."
    )]
    NoPdf,
    /// Not one page.
    #[error(
        "A print is one page of PDF; this file has {0}. Save the one that is printed by itself."
    )]
    Pages(usize),
    /// No SVG that can be shown.
    #[error("This SVG cannot be read. Write it anew, or save it as PDF or as a picture.")]
    NoSvg,
    /// Broken.
    #[error("The photo is damaged and cannot be read to its end. Take it again.")]
    Damaged,
}

impl From<PhotoError> for Told {
    fn from(error: PhotoError) -> Told {
        Told::new("photo", error.to_string())
    }
}

/// A photo as it is kept.
#[derive(Debug, Clone)]
pub struct Kept {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// JPEG without metadata.
    pub jpeg: Vec<u8>,
    /// A small copy as JPEG.
    pub small: Vec<u8>,
}

/// Takes a photo: decides by content what it is, turns it upright, makes it smaller and writes it anew. Only pixels survive: place,
/// camera and everything else that a photo carries are gone.
///
/// `edge` is the longest edge that is kept: [`LONGEST_EDGE`] or [`LARGE_EDGE`].
pub fn take(bytes: &[u8], edge: u32) -> Result<Kept, PhotoError> {
    if bytes.len() > LARGEST_PHOTO {
        return Err(PhotoError::TooLarge);
    }
    kept_of(open(bytes)?, edge)
}

/// A picture as it is kept, its longest edge no longer than `edge` pixels.
pub(crate) fn kept_of(photo: DynamicImage, edge: u32) -> Result<Kept, PhotoError> {
    let smaller = |photo: &DynamicImage, edge: u32| {
        (photo.width().max(photo.height()) > edge)
            .then(|| photo.resize(edge, edge, FilterType::Triangle).into_rgb8())
    };
    let kept = match smaller(&photo, edge) {
        Some(kept) => kept,
        None => photo.into_rgb8(),
    };
    let whole = DynamicImage::ImageRgb8(kept.clone());
    let small = smaller(&whole, SMALL_EDGE).unwrap_or_else(|| kept.clone());
    Ok(Kept {
        width: kept.width(),
        height: kept.height(),
        jpeg: jpeg(&kept)?,
        small: jpeg(&small)?,
    })
}

/// Whether a picture's own data says that it must be turned to stand upright.
pub(crate) fn needs_turning(bytes: &[u8]) -> Result<bool, PhotoError> {
    let mut decoder = ImageReader::new(Cursor::new(bytes))
        .with_guessed_format()
        .map_err(|_| PhotoError::NotAPhoto)?
        .into_decoder()
        .map_err(|_| PhotoError::Damaged)?;
    let upright = decoder.orientation().map_err(|_| PhotoError::Damaged)?;
    Ok(upright != image::metadata::Orientation::NoTransforms)
}

fn open(bytes: &[u8]) -> Result<DynamicImage, PhotoError> {
    let mut reader = ImageReader::new(Cursor::new(bytes))
        .with_guessed_format()
        .map_err(|_| PhotoError::NotAPhoto)?;
    if !matches!(
        reader.format(),
        Some(ImageFormat::Jpeg | ImageFormat::Png | ImageFormat::WebP)
    ) {
        return Err(PhotoError::NotAPhoto);
    }
    let mut limits = Limits::default();
    limits.max_image_width = Some(MOST_PIXELS);
    limits.max_image_height = Some(MOST_PIXELS);
    limits.max_alloc = Some(400 * 1024 * 1024);
    reader.limits(limits);
    let refused = |e: image::ImageError| match e {
        image::ImageError::Limits(_) => PhotoError::TooManyPixels,
        _ => PhotoError::Damaged,
    };
    let mut decoder = reader.into_decoder().map_err(refused)?;
    let (across, down) = decoder.dimensions();
    if u64::from(across) * u64::from(down) > MOST_IN_ALL {
        return Err(PhotoError::TooManyPixels);
    }
    let upright = decoder.orientation().map_err(refused)?;
    let mut photo = DynamicImage::from_decoder(decoder).map_err(refused)?;
    photo.apply_orientation(upright);
    Ok(photo)
}

fn jpeg(photo: &RgbImage) -> Result<Vec<u8>, PhotoError> {
    let mut bytes = Vec::new();
    JpegEncoder::new_with_quality(&mut bytes, QUALITY)
        .encode_image(photo)
        .map_err(|_| PhotoError::Damaged)?;
    Ok(bytes)
}

/// A photo that was kept as paper shows it: in greys, its longest edge of no more pixels than this; JPEG.
pub fn for_paper(bytes: &[u8], edge: u32) -> Result<Vec<u8>, PhotoError> {
    let photo = open(bytes)?;
    let photo = if photo.width().max(photo.height()) > edge {
        photo.resize(edge, edge, FilterType::Triangle)
    } else {
        photo
    };
    let mut grey = Vec::new();
    JpegEncoder::new_with_quality(&mut grey, QUALITY)
        .encode_image(&photo.into_luma8())
        .map_err(|_| PhotoError::Damaged)?;
    Ok(grey)
}

/// The pixels of a photo that was kept.
pub fn raster(bytes: &[u8]) -> Result<Raster, PhotoError> {
    let photo = open(bytes)?.to_rgb8();
    Ok(Raster {
        width: photo.width(),
        height: photo.height(),
        rgb: photo.into_raw(),
    })
}

/// A squared-up picture as JPEG.
pub fn write(raster: Raster) -> Result<Vec<u8>, PhotoError> {
    let picture =
        RgbImage::from_raw(raster.width, raster.height, raster.rgb).ok_or(PhotoError::Damaged)?;
    jpeg(&picture)
}

/// A pixel is dark where its brightness is under this share of white (ours).
const DARK: f64 = 0.25;

/// The share of a picture's pixels that are dark: under a quarter of white's brightness, as sRGB weighs it (IEC 61966-2-1, Rec. 709 weights).
///
/// Errors: a picture that cannot be read.
pub fn dark_share(bytes: &[u8]) -> Result<f64, PhotoError> {
    let photo = open(bytes)?.into_rgb8();
    let linear = |v: u8| {
        let v = f64::from(v) / 255.0;
        if v <= 0.040_45 {
            v / 12.92
        } else {
            ((v + 0.055) / 1.055).powf(2.4)
        }
    };
    let table: Vec<f64> = (0..=255).map(linear).collect();
    let bright = |p: &image::Rgb<u8>| {
        let of = |n: usize| table.get(usize::from(p.0[n])).copied().unwrap_or(0.0);
        0.2126 * of(0) + 0.7152 * of(1) + 0.0722 * of(2)
    };
    // A quarter as the eye sees it: lightness, not light.
    let limit = linear((DARK * 255.0) as u8);
    let all = photo.pixels().len().max(1) as f64;
    let dark = photo.pixels().filter(|p| bright(p) < limit).count();
    Ok(dark as f64 / all)
}
