//! When a vehicle was built: a month, or a year alone.

use serde::{Deserialize, Deserializer, Serialize, Serializer};

const MONTHS: [&str; 12] = [
    "january",
    "february",
    "march",
    "april",
    "may",
    "june",
    "july",
    "august",
    "september",
    "october",
    "november",
    "december",
];

/// A month and year, or a year alone. The rules begin on the first of a month.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Built {
    /// The year.
    pub year: i32,
    /// The month, 1 to 12, where it is known.
    pub month: Option<u8>,
}

impl Built {
    /// A month of a year.
    pub const fn month(year: i32, month: u8) -> Built {
        Built {
            year,
            month: Some(month),
        }
    }

    /// Reads what was typed: `2019`, `2019-05`, `5/2019`, `May 2019`, `2019-05-02`.
    ///
    /// ```
    /// use windrift_core::marking::built::Built;
    /// assert_eq!(Built::read("12/1993"), Ok(Built::month(1993, 12)));
    /// assert_eq!(Built::read("Dec 1993"), Built::read("1993-12-05"));
    /// assert_eq!(Built::read("July 1997"), Ok(Built::month(1997, 7)));
    /// assert_eq!(Built::read("1990"), Ok(Built { year: 1990, month: None }));
    /// assert!(Built::read("13/1993").is_err());
    /// ```
    ///
    /// Errors: a sentence that says what can be typed.
    pub fn read(typed: &str) -> Result<Built, String> {
        let lower = typed.trim().to_lowercase();
        let parts: Vec<&str> = lower
            .split([' ', '/', '-', '.', ','])
            .filter(|p| !p.is_empty())
            .collect();
        let named = |p: &str| {
            let n = (MONTHS.iter()).position(|m| p.len() >= 3 && m.starts_with(p))?;
            u8::try_from(n + 1).ok()
        };
        let month = |p: &str| p.parse().ok().or_else(|| named(p));
        let is_year = |p: &str| p.len() == 4 && p.chars().all(|c| c.is_ascii_digit());
        let (year, month) = match parts.as_slice() {
            [year] => (*year, None),
            [year, m] if is_year(year) => (*year, Some(month(m))),
            [m, year] => (*year, Some(month(m))),
            [year, m, _] if is_year(year) => (*year, Some(month(m))),
            _ => ("", None),
        };
        let year: Option<i32> = year.parse().ok().filter(|y| (1900..=2100).contains(y));
        let month: Option<Option<u8>> = match month {
            None => Some(None),
            Some(Some(m)) if (1..=12).contains(&m) => Some(Some(m)),
            Some(_) => None,
        };
        match (year, month) {
            (Some(year), Some(month)) => Ok(Built { year, month }),
            _ => Err(format!(
                "\u{201c}{typed}\u{201d} is no month and year. Type 5/2019, May 2019, or the year alone; or leave it empty."
            )),
        }
    }

    /// Whether it was built from the first of a month on; nothing where the year alone does not say.
    pub fn from(&self, first: Built) -> Option<bool> {
        match (self.month, first.month) {
            (Some(m), Some(n)) => Some((self.year, m) >= (first.year, n)),
            _ if self.year != first.year => Some(self.year > first.year),
            _ => None,
        }
    }

    /// As it is printed: `May 2019`, `2019`.
    pub fn told(&self) -> String {
        let name = (self.month)
            .and_then(|m| MONTHS.get(usize::from(m).wrapping_sub(1)))
            .map(|m| crate::ground::told::first_capital(m));
        match name {
            Some(month) => format!("{month} {}", self.year),
            None => self.year.to_string(),
        }
    }
}

impl Serialize for Built {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&match self.month {
            Some(month) => format!("{:04}-{month:02}", self.year),
            None => format!("{:04}", self.year),
        })
    }
}

impl<'de> Deserialize<'de> for Built {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Built, D::Error> {
        let typed = String::deserialize(deserializer)?;
        Built::read(&typed).map_err(serde::de::Error::custom)
    }
}

#[cfg(feature = "schema")]
impl utoipa::PartialSchema for Built {
    fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
        String::schema()
    }
}

#[cfg(feature = "schema")]
impl utoipa::ToSchema for Built {}
