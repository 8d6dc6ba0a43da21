//! A side in zones that are cleaned one after the other: no wider than somebody reaches from one place, the upper ones first.

use kurbo::Rect;
use serde::Serialize;

/// Somebody reaches so far, wiping, without moving the platform, mm: 5 ft (ours).
const REACH_MM: f64 = 1524.0;
/// Cleaned wider than the film on every side, mm: 6 in (common practice, no source).
const WIDER_MM: f64 = 152.4;
/// Most zones of a side.
const MOST: f64 = 24.0;

/// A zone of a side.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CleanZone {
    /// Its number, from 1: the order in which they are cleaned.
    pub number: u32,
    /// Where it is, in the picture frame: x, y, width, height, mm.
    pub bounds: [f64; 4],
}

/// Zones over film with these bounds, on a side with those; none where there is no film. One alone is the whole side.
///
/// ```
/// # use kurbo::Rect;
/// # use windrift_core::floor::prep::zones::zones;
/// // 19 ft of film 3 ft high, and 6 in more all round: four zones side by side. Twice as high as somebody reaches: the upper row first.
/// let side = Rect::new(0.0, 0.0, 8000.0, 3000.0);
/// assert_eq!(zones(&[Rect::new(500.0, 500.0, 6291.0, 1414.0)], side).len(), 4);
/// let high = zones(&[Rect::new(500.0, 200.0, 1500.0, 2600.0)], side);
/// assert_eq!(high.len(), 2);
/// assert!(high[0].bounds[1] < high[1].bounds[1]);
/// assert!(zones(&[], side).is_empty());
/// ```
pub fn zones(film: &[Rect], side: Rect) -> Vec<CleanZone> {
    let Some(all) = film.iter().copied().reduce(|a, b| a.union(b)) else {
        return Vec::new();
    };
    let all = all.inflate(WIDER_MM, WIDER_MM).intersect(side);
    let count = |long: f64, reach: f64| (long / reach - 1e-9).ceil().max(1.0);
    let mut reach = REACH_MM;
    while count(all.width(), reach) * count(all.height(), reach) > MOST {
        reach *= 1.1;
    }
    let (columns, rows) = (count(all.width(), reach), count(all.height(), reach));
    let (wide, high) = (all.width() / columns, all.height() / rows);
    let mut found = Vec::new();
    for row in 0..rows as u32 {
        for column in 0..columns as u32 {
            found.push(CleanZone {
                number: found.len() as u32 + 1,
                bounds: [
                    all.x0 + f64::from(column) * wide,
                    all.y0 + f64::from(row) * high,
                    wide,
                    high,
                ],
            });
        }
    }
    found
}
