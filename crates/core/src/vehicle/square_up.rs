//! Squaring up a photo of a side from four known points, so that it can lie under the picture to scale.
//!
//! A flat side and its photo are related by a projective map (homography), which four points fix: the usual pinhole-camera
//! geometry, no lens distortion. What lies before or behind the plane of the side is not where it seems to be.

use kurbo::{Point, Rect};

use crate::ground::homography::Homography;
use crate::vehicle::side::Side;
use crate::vehicle::underlay::Underlay;

/// A picture of pixels, three bytes each: red, green, blue.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Raster {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Row by row from the top left.
    pub rgb: Vec<u8>,
}

/// What stands where the photo does not reach: the paper of the picture.
const BLANK: [u8; 3] = [253, 252, 247];

impl Raster {
    fn pixel(&self, x: u32, y: u32) -> [f64; 3] {
        let at = (y as usize * self.width as usize + x as usize) * 3;
        let byte = |n: usize| f64::from(self.rgb.get(at + n).copied().unwrap_or_default());
        [byte(0), byte(1), byte(2)]
    }

    /// Colour at a place between pixels, whose middles are at halves; bilinear. `None` off the picture.
    pub fn sample(&self, at: Point) -> Option<[f64; 3]> {
        let (x, y) = (at.x - 0.5, at.y - 0.5);
        let (last_x, last_y) = (f64::from(self.width) - 1.0, f64::from(self.height) - 1.0);
        if !(x >= -0.5 && y >= -0.5 && x <= last_x + 0.5 && y <= last_y + 0.5) {
            return None;
        }
        let (x, y) = (x.clamp(0.0, last_x), y.clamp(0.0, last_y));
        let (x0, y0) = (x.floor(), y.floor());
        let (fx, fy) = (x - x0, y - y0);
        let (x1, y1) = ((x0 + 1.0).min(last_x), (y0 + 1.0).min(last_y));
        let [a, b, c, d] =
            [(x0, y0), (x1, y0), (x0, y1), (x1, y1)].map(|(x, y)| self.pixel(x as u32, y as u32));
        Some(std::array::from_fn(|n| {
            (a[n] * (1.0 - fx) + b[n] * fx) * (1.0 - fy) + (c[n] * (1.0 - fx) + d[n] * fx) * fy
        }))
    }
}

/// The photo squared up: the part of the side's picture frame within `area` (mm), `width` pixels across.
///
/// `to_photo` takes mm of the picture frame to pixels of the photo.
///
/// ```
/// # use kurbo::{Point, Rect};
/// # use windrift_core::{ground::homography::Homography, vehicle::square_up::{Raster, square_up}};
/// // Four pixels over a metre: the same four come back, whole.
/// let photo = Raster { width: 2, height: 2, rgb: vec![10, 10, 10, 90, 90, 90, 10, 10, 10, 90, 90, 90] };
/// let p = Point::new;
/// let pairs = [(p(0., 0.), p(0., 0.)), (p(1000., 0.), p(2., 0.)), (p(1000., 1000.), p(2., 2.)), (p(0., 1000.), p(0., 2.))];
/// let to_photo = Homography::through(&pairs).unwrap();
/// assert_eq!(square_up(&photo, &to_photo, Rect::new(0., 0., 1000., 1000.), 2), photo);
/// ```
pub fn square_up(photo: &Raster, to_photo: &Homography, area: Rect, width: u32) -> Raster {
    let mm = area.width() / f64::from(width.max(1));
    let height = (area.height() / mm).round().max(1.0) as u32;
    let mut rgb = Vec::with_capacity(width as usize * height as usize * 3);
    for row in 0..height {
        for column in 0..width {
            let at = Point::new(
                area.x0 + (f64::from(column) + 0.5) * mm,
                area.y0 + (f64::from(row) + 0.5) * mm,
            );
            let colour = to_photo.map(at).and_then(|p| photo.sample(p));
            match colour {
                Some(c) => rgb.extend(c.map(|v| v.round() as u8)),
                None => rgb.extend(BLANK),
            }
        }
    }
    Raster { width, height, rgb }
}

impl Underlay {
    /// The map from the side's picture frame (mm) to the photo (pixels), for a photo of this size.
    ///
    /// `None` where the points do not fix one; [`Underlay::check`] says why.
    pub fn to_photo(&self, side: &Side, width: u32, height: u32) -> Option<Homography> {
        let datum = side.datum();
        let pairs: Vec<(Point, Point)> = self
            .points
            .iter()
            .map(|p| {
                let seen = Point::new(p.across * f64::from(width), p.down * f64::from(height));
                (datum.drop_point(p.back_mm.mm(), p.drop_mm.mm()), seen)
            })
            .collect();
        Homography::through(pairs.as_slice().try_into().ok()?)
    }
}
