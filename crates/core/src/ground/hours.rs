//! The hours of a shop: from when to when it works, on which days, and its breaks.

use serde::{Deserialize, Serialize};

use crate::ground::told::Told;

/// Hours of a shop. Minutes are those since midnight, by its own clock.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct ShopHours {
    /// Work begins.
    pub from_minutes: u32,
    /// Work ends.
    pub to_minutes: u32,
    /// Whether Saturdays are worked.
    pub saturdays: bool,
    /// After so much work comes a break, minutes.
    pub break_every_minutes: u32,
    /// It lasts so long, minutes.
    pub break_minutes: u32,
}

impl Default for ShopHours {
    /// 7:30 to 16:30, Monday to Friday, a quarter of an hour after every two hours (ours).
    fn default() -> Self {
        ShopHours {
            from_minutes: 450,
            to_minutes: 990,
            saturdays: false,
            break_every_minutes: 120,
            break_minutes: 15,
        }
    }
}

impl ShopHours {
    /// Whether somebody can work by them.
    ///
    /// Errors: what is wrong, in a sentence.
    pub fn check(&self) -> Result<(), Told> {
        let wrong = |sentence: &str| Err(Told::new("settings", sentence));
        if self.to_minutes > 24 * 60 - 1 || self.from_minutes + 30 > self.to_minutes {
            return wrong(
                "The shop must be open for half an hour or more, and close before midnight.",
            );
        }
        if !(10..=600).contains(&self.break_every_minutes) || self.break_minutes > 120 {
            return wrong(
                "A break comes after 10 to 600 minutes of work and lasts at most 120 minutes.",
            );
        }
        Ok(())
    }
}
