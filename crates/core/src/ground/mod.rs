//! What everything stands on: lengths and tape, shapes, the datum, errors, settings.

pub mod budget;
pub mod climate;
pub mod colour;
pub mod datum;
pub mod degrees;
pub mod homography;
pub mod hours;
pub mod measure_error;
pub mod mm;
pub mod outline;
pub mod said;
pub mod settings;
pub mod tape;
pub mod told;
pub mod weights;
pub mod zone;
