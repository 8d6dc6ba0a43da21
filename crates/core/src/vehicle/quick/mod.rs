//! Quick words: a feature in one line, as a fitter calls it out to whoever writes it down.
//!
//! ```text
//! rivets 46 3/4 every 4' x5, 6 down every 3 x13 head 3/8
//! seam every 48
//! lamp 6 back 82 down amber
//! locker door 20' back 24 down 34 x 40 called "battery"
//! crease along 12, 30; 40, 33 r; 90, 30
//! ```
//!
//! Every feature can be said in quick words ([`say`]), and what was said is read back as the same feature ([`read`]).

mod line;
mod read;
mod said;
mod say;
mod words;

pub use line::Part;
pub use read::{Quick, read};
pub use say::say;
pub use words::completions;
