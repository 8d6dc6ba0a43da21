//! A weight rating as it is typed.

use serde::{Deserialize, Deserializer, Serialize};

/// Kilograms of a pound: exact since 1959 (international yard and pound agreement).
const KG_PER_POUND: f64 = 0.453_592_37;
/// Pounds of a short ton (United States).
const POUNDS_PER_SHORT_TON: f64 = 2000.0;

/// A weight rating, in kilograms, with the words in which it was typed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mass {
    /// Kilograms.
    pub kg: f64,
    /// As it was typed: `26,000 lb`.
    pub typed: String,
}

impl Mass {
    /// So many kilograms.
    pub fn of_kg(kg: f64) -> Mass {
        Mass {
            kg,
            typed: format!("{kg} kg"),
        }
    }

    /// Reads what was typed: a number with `lb`, `kg`, `t` (1000 kg) or `tons` (2000 lb). A bare number is kilograms.
    ///
    /// ```
    /// use windrift_core::marking::mass::Mass;
    /// let kg = |typed| Mass::read(typed).unwrap().kg;
    /// assert!((kg("10,001 lb") - 4536.377).abs() < 0.001);
    /// assert_eq!((kg("12 t"), kg("4500")), (12_000.0, 4500.0));
    /// assert!((kg("5 tons") - 4535.924).abs() < 0.001);
    /// assert!(Mass::read("heavy").is_err());
    /// ```
    ///
    /// Errors: a sentence that says what can be typed.
    pub fn read(typed: &str) -> Result<Mass, String> {
        let text = typed.trim().to_lowercase();
        let number: String = (text.chars())
            .take_while(|c| c.is_ascii_digit() || matches!(c, '.' | ',' | ' ' | '_'))
            .filter(|c| c.is_ascii_digit() || *c == '.')
            .collect();
        let unit: String = (text.chars())
            .skip_while(|c| c.is_ascii_digit() || matches!(c, '.' | ',' | ' ' | '_'))
            .collect();
        let each = match unit.trim().trim_end_matches('.') {
            "" | "kg" | "kgs" | "kilo" | "kilos" | "kilogram" | "kilograms" => 1.0,
            "lb" | "lbs" | "pound" | "pounds" | "#" => KG_PER_POUND,
            "t" | "tonne" | "tonnes" => 1000.0,
            "ton" | "tons" | "short ton" | "short tons" => KG_PER_POUND * POUNDS_PER_SHORT_TON,
            _ => return Err(said(typed)),
        };
        let figure: f64 = number.parse().map_err(|_| said(typed))?;
        Ok(Mass {
            kg: figure * each,
            typed: typed.trim().to_owned(),
        })
    }
}

fn said(typed: &str) -> String {
    format!(
        "\u{201c}{typed}\u{201d} is no weight. Type it as on the plate: 26,000 lb, 12,000 kg, 12 t; or leave it empty."
    )
}

/// A mass is read from what was typed, from a number of kilograms (earlier releases), or from what was kept.
impl<'de> Deserialize<'de> for Mass {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Mass, D::Error> {
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum As {
            Kg(f64),
            Typed(String),
            Kept { kg: f64, typed: String },
        }
        match As::deserialize(deserializer)? {
            As::Kg(kg) => Ok(Mass::of_kg(kg)),
            As::Typed(typed) => Mass::read(&typed).map_err(serde::de::Error::custom),
            As::Kept { kg, typed } => Ok(Mass { kg, typed }),
        }
    }
}
