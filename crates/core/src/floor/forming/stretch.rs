//! How far film stretches over a recess, a corner, a dome and a head: geometry alone, no film.
//!
//! Lengths in mm, angles in degrees, stretch as a share. Even stretch over the mouth and the warmed band is assumed: film that sticks before it is
//! down stretches more in a shorter length.

use thiserror::Error;

/// A shape that cannot be.
#[derive(Debug, Clone, Copy, PartialEq, Error)]
pub enum NoSuchShape {
    /// Its walls would meet before its floor.
    #[error(
        "its walls meet before they are so deep: measure its depth, its mouth and the angle of its walls again"
    )]
    WallsMeet,
    /// A figure that is none.
    #[error("its figures cannot be: measure it again")]
    Figures,
}

/// A recess: mouth, depth and the angle of its walls from the face.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RecessShape {
    /// The shorter way across its mouth.
    pub mouth_mm: f64,
    /// Depth.
    pub depth_mm: f64,
    /// 90 is square.
    pub wall_degrees: f64,
}

impl RecessShape {
    /// A recess that can be.
    ///
    /// Errors: walls that meet before its floor; figures that are none.
    pub fn new(
        mouth_mm: f64,
        depth_mm: f64,
        wall_degrees: f64,
    ) -> Result<RecessShape, NoSuchShape> {
        let all = [mouth_mm, depth_mm, wall_degrees];
        if all.iter().any(|v| !v.is_finite()) || mouth_mm <= 0.0 || depth_mm < 0.0 {
            return Err(NoSuchShape::Figures);
        }
        if !(1.0..=90.0).contains(&wall_degrees) {
            return Err(NoSuchShape::Figures);
        }
        let shape = RecessShape {
            mouth_mm,
            depth_mm,
            wall_degrees,
        };
        if shape.floor_mm() < -1e-9 {
            return Err(NoSuchShape::WallsMeet);
        }
        Ok(shape)
    }

    fn radians(&self) -> f64 {
        self.wall_degrees.to_radians()
    }

    /// How far a wall leans in from the rim to the floor.
    fn lean_mm(&self) -> f64 {
        self.depth_mm * self.radians().cos() / self.radians().sin()
    }

    /// Width of its floor.
    pub fn floor_mm(&self) -> f64 {
        self.mouth_mm - 2.0 * self.lean_mm()
    }

    /// Down one wall, over the floor and up the other: w + 2 d tan(α/2).
    ///
    /// ```
    /// # use windrift_core::floor::forming::stretch::RecessShape;
    /// // 4 in wide, 3/4 in deep, square walls.
    /// let recess = RecessShape::new(101.6, 19.05, 90.0).unwrap();
    /// assert!((recess.developed_mm() - 139.7).abs() < 1e-9);
    /// assert!((recess.stretch(0.0) - 0.375).abs() < 1e-9);
    /// assert!((recess.stretch(50.8) - 0.1875).abs() < 1e-9);
    /// // 10 % takes 5 1/2 in of warm film on each side.
    /// assert!((recess.band_mm(0.10).unwrap() - 139.7).abs() < 1e-9);
    /// ```
    pub fn developed_mm(&self) -> f64 {
        self.mouth_mm + 2.0 * self.depth_mm * (self.radians() / 2.0).tan()
    }

    /// Film that is wanted beyond the mouth.
    pub fn slack_mm(&self) -> f64 {
        self.developed_mm() - self.mouth_mm
    }

    /// Stretch across it where a band of this width on each side is warm and not pressed, so that it gives too.
    pub fn stretch(&self, band_mm: f64) -> f64 {
        self.slack_mm() / (self.mouth_mm + 2.0 * band_mm)
    }

    /// The same where a strip of its floor is pressed first and gives no more.
    pub fn stretch_floor_pressed(&self, pressed_mm: f64, band_mm: f64) -> f64 {
        let gives = self.mouth_mm - pressed_mm.clamp(0.0, self.floor_mm()) + 2.0 * band_mm;
        if gives > 0.0 {
            self.slack_mm() / gives
        } else if self.slack_mm() > 0.0 {
            f64::INFINITY
        } else {
            0.0
        }
    }

    /// How wide a band on each side must be warm, so that no more than this stretch is left; nothing where no stretch is allowed.
    pub fn band_mm(&self, most: f64) -> Option<f64> {
        if self.slack_mm() <= 0.0 {
            return Some(0.0);
        }
        (most > 0.0).then(|| ((self.slack_mm() / most - self.mouth_mm) / 2.0).max(0.0))
    }

    /// Area of film in a corner, mm²: half the mouth each way, down both walls.
    fn corner_mm2(&self) -> (f64, f64) {
        let half = self.mouth_mm / 2.0;
        let lean = self.lean_mm();
        let walls = (2.0 * half - lean) * self.depth_mm / self.radians().sin();
        (half, (half - lean).powi(2) + walls)
    }

    /// Stretch both ways at once in a corner that is shut in, with a warm band round it: √(1 + (A − s²)/(s + f)²) − 1.
    pub fn corner_stretch(&self, band_mm: f64) -> f64 {
        let (half, area) = self.corner_mm2();
        (1.0 + (area - half * half) / (half + band_mm).powi(2)).sqrt() - 1.0
    }

    /// How wide a band must be warm round a corner, so that no more than this stretch both ways is left; nothing where none is allowed.
    pub fn corner_band_mm(&self, most: f64) -> Option<f64> {
        let (half, area) = self.corner_mm2();
        let more = area - half * half;
        if more <= 0.0 {
            return Some(0.0);
        }
        (most > 0.0).then(|| ((more / ((1.0 + most).powi(2) - 1.0)).sqrt() - half).max(0.0))
    }
}

/// A cap: a dome, a hollow, the head of a rivet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cap {
    /// Radius of its foot.
    pub radius_mm: f64,
    /// Height over it.
    pub height_mm: f64,
}

impl Cap {
    /// Its area over that of the flat circle under it, less one: h²/a² (mensuration of the spherical segment).
    pub fn area_stretch(&self) -> f64 {
        (self.height_mm / self.radius_mm).powi(2)
    }

    /// Even stretch both ways at once, with a warm band round it: the mean over its area, so the least that there can be.
    ///
    /// ```
    /// # use windrift_core::floor::forming::stretch::Cap;
    /// let cap = Cap { radius_mm: 10.0, height_mm: 4.0 };
    /// assert!((cap.stretch(0.0) - 0.077).abs() < 5e-4);
    /// assert!((cap.along_arc() - 0.103).abs() < 5e-4);
    /// ```
    pub fn stretch(&self, band_mm: f64) -> f64 {
        (1.0 + (self.height_mm / (self.radius_mm + band_mm)).powi(2)).sqrt() - 1.0
    }

    /// Stretch along an arc over its top: θ/sin θ − 1, where θ = 2 atan(h/a).
    pub fn along_arc(&self) -> f64 {
        let angle = 2.0 * (self.height_mm / self.radius_mm).atan();
        if angle < 1e-6 {
            0.0
        } else {
            angle / angle.sin() - 1.0
        }
    }

    /// How far round its middle film must be free to give, so that no more than this stretch is left: h/√((1 + ε)² − 1).
    pub fn ring_mm(&self, most: f64) -> Option<f64> {
        (most > 0.0).then(|| self.height_mm / ((1.0 + most).powi(2) - 1.0).sqrt())
    }
}

/// A crease or a body line, taken as two straight walls that meet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fold {
    /// From the panel to where the walls meet, mm.
    pub depth_mm: f64,
    /// Across it, mm.
    pub wide_mm: f64,
}

impl Fold {
    /// Film along both walls, mm: 2√((w/2)² + d²).
    ///
    /// ```
    /// # use windrift_core::floor::forming::stretch::Fold;
    /// let line = Fold { depth_mm: 12.0, wide_mm: 32.0 };
    /// // Two walls of 16, 12 and 20.
    /// assert_eq!(line.developed_mm(), 40.0);
    /// assert_eq!(line.straight(), 0.25);
    /// ```
    pub fn developed_mm(&self) -> f64 {
        2.0 * (self.wide_mm / 2.0).hypot(self.depth_mm)
    }

    /// Stretch where film is bridged over it and pushed straight in, a share.
    pub fn straight(&self) -> f64 {
        self.developed_mm() / self.wide_mm - 1.0
    }
}

/// A bend one way: the arc over a chord that rises so far, mm. Film lies on it without stretch.
///
/// ```
/// # use windrift_core::floor::forming::stretch::arc_mm;
/// // Half a circle of 100 mm radius.
/// assert!((arc_mm(200.0, 100.0) - 314.159).abs() < 1e-3);
/// ```
pub fn arc_mm(chord_mm: f64, rise_mm: f64) -> f64 {
    if rise_mm <= 0.0 {
        return chord_mm;
    }
    // From the chord to the top it turns by half the angle of the whole arc.
    let quarter = (2.0 * rise_mm / chord_mm).atan();
    let radius = chord_mm / 2.0 / (2.0 * quarter).sin().max(1e-12);
    4.0 * quarter * radius
}
