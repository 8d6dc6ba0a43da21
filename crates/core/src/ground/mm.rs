//! Lengths as people give them: [`Mm`], which cannot be typed below 0, and [`SignedMm`], which can.
//!
//! What is measured, asked for or settled is one of the two; what follows from it is computed in plain `f64` millimetres. From the
//! type follows what may be typed, what may be negative and what is printed: no list of field names says so a second time.
//!
//! Both are kept as a number of millimetres. Read within [`typed_in`] they may also be text, as an installer writes it.

use std::cell::{Cell, RefCell};
use std::collections::BTreeMap;
use std::fmt;
use std::iter::Sum;
use std::ops::{Add, AddAssign, Deref, Div, Mul, Neg, Sub, SubAssign};

use serde::de::{Error as _, Visitor};
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use serde_json::Value;

use crate::ground::tape::{LengthError, Unit, parse, parse_signed, print};

thread_local! {
    /// The tape in which text is read just now. A deserialiser takes nothing with it, and tagged enums hide it behind a buffer.
    static TAPE: Cell<Option<Unit>> = const { Cell::new(None) };
    /// What could not be read, and why.
    static REFUSED: RefCell<Option<Refused>> = const { RefCell::new(None) };
    /// Whether lengths are marked as such when they are written.
    static MARKED: Cell<bool> = const { Cell::new(false) };
}

/// Text that is no length, with why.
#[derive(Debug, Clone, PartialEq)]
pub struct Refused {
    /// As it was typed.
    pub text: String,
    /// Why, in words.
    pub why: LengthError,
}

/// Reads something whose lengths may be text of a tape in `unit`; with it what was refused first, if anything was.
///
/// ```
/// # use windrift_core::ground::{mm::{Mm, typed_in}, tape::Unit};
/// let read = |json: &str| typed_in(Unit::InchSixteenth, || serde_json::from_str::<Mm>(json));
/// assert_eq!(read("\"27 3/4\"").0.unwrap(), 704.85);
/// assert_eq!(read("704.85").0.unwrap(), 704.85);
/// let (failed, refused) = read("\"-3\"");
/// assert!(failed.is_err());
/// assert_eq!(refused.unwrap().text, "-3");
/// // A tape that nobody named reads no text.
/// assert!(serde_json::from_str::<Mm>("\"27 3/4\"").is_err());
/// ```
pub fn typed_in<T>(unit: Unit, read: impl FnOnce() -> T) -> (T, Option<Refused>) {
    let before = TAPE.replace(Some(unit));
    REFUSED.replace(None);
    let read = read();
    TAPE.set(before);
    (read, REFUSED.replace(None))
}

/// Every length in something, by its path, as a tape in `unit` shows it.
///
/// ```
/// # use windrift_core::ground::{mm::{Mm, SignedMm, printed}, tape::Unit};
/// #[derive(serde::Serialize)]
/// struct Hole { back_mm: Mm, off: Vec<SignedMm>, heads: u32 }
/// let hole = Hole { back_mm: 25.4.into(), off: vec![(-12.7).into()], heads: 3 };
/// let text = printed(&hole, Unit::InchSixteenth);
/// assert_eq!((text.len(), text["/back_mm"].as_str(), text["/off/0"].as_str()), (2, "1", "\u{2212}1/2"));
/// ```
pub fn printed(of: &impl Serialize, unit: Unit) -> BTreeMap<String, String> {
    let before = MARKED.replace(true);
    let marked = serde_json::to_value(of);
    MARKED.set(before);
    let mut found = BTreeMap::new();
    gather(&marked.unwrap_or_default(), String::new(), unit, &mut found);
    found
}

/// The one key of a marked length.
const MARK: &str = "\u{2300}mm";

fn gather(value: &Value, path: String, unit: Unit, found: &mut BTreeMap<String, String>) {
    match value {
        Value::Object(fields) => {
            if let Some(mm) = fields.get(MARK).and_then(Value::as_f64) {
                found.insert(path, print(mm, unit).text);
                return;
            }
            for (key, value) in fields {
                gather(value, format!("{path}/{key}"), unit, found);
            }
        }
        Value::Array(items) => {
            for (n, value) in items.iter().enumerate() {
                gather(value, format!("{path}/{n}"), unit, found);
            }
        }
        _ => {}
    }
}

fn write<S: Serializer>(mm: f64, writer: S) -> Result<S::Ok, S::Error> {
    if MARKED.get() {
        writer.collect_map([(MARK, mm)])
    } else {
        writer.serialize_f64(mm)
    }
}

struct Reads {
    signed: bool,
}

impl Visitor<'_> for Reads {
    type Value = f64;

    fn expecting(&self, to: &mut fmt::Formatter<'_>) -> fmt::Result {
        to.write_str("a length in millimetres, or as a tape reads")
    }

    fn visit_f64<E>(self, mm: f64) -> Result<f64, E> {
        Ok(mm)
    }

    fn visit_i64<E>(self, mm: i64) -> Result<f64, E> {
        Ok(mm as f64)
    }

    fn visit_u64<E>(self, mm: u64) -> Result<f64, E> {
        Ok(mm as f64)
    }

    fn visit_str<E: serde::de::Error>(self, text: &str) -> Result<f64, E> {
        let Some(unit) = TAPE.get() else {
            return Err(E::invalid_type(serde::de::Unexpected::Str(text), &self));
        };
        let read = if self.signed {
            parse_signed(text, unit)
        } else {
            parse(text, unit)
        };
        read.map_err(|why| {
            let told = E::custom(&why);
            let text = text.to_owned();
            REFUSED.with_borrow_mut(|refused| {
                refused.get_or_insert(Refused { text, why });
            });
            told
        })
    }
}

macro_rules! length {
    ($(#[$doc:meta])* $name:ident, $signed:literal) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default)]
        pub struct $name(f64);

        impl $name {
            /// None.
            pub const ZERO: $name = $name(0.0);

            /// So many millimetres.
            pub const fn of(mm: f64) -> $name {
                $name(mm)
            }

            /// In millimetres.
            pub const fn mm(self) -> f64 {
                self.0
            }
        }

        impl Deref for $name {
            type Target = f64;

            fn deref(&self) -> &f64 {
                &self.0
            }
        }

        impl From<f64> for $name {
            fn from(mm: f64) -> $name {
                $name(mm)
            }
        }

        impl From<$name> for f64 {
            fn from(length: $name) -> f64 {
                length.0
            }
        }

        impl PartialEq<f64> for $name {
            fn eq(&self, mm: &f64) -> bool {
                self.0 == *mm
            }
        }

        impl PartialOrd<f64> for $name {
            fn partial_cmp(&self, mm: &f64) -> Option<std::cmp::Ordering> {
                self.0.partial_cmp(mm)
            }
        }

        impl PartialEq<$name> for f64 {
            fn eq(&self, mm: &$name) -> bool {
                *self == mm.0
            }
        }

        impl PartialOrd<$name> for f64 {
            fn partial_cmp(&self, mm: &$name) -> Option<std::cmp::Ordering> {
                self.partial_cmp(&mm.0)
            }
        }

        impl AddAssign<$name> for f64 {
            fn add_assign(&mut self, more: $name) {
                *self += more.0;
            }
        }

        impl SubAssign<$name> for f64 {
            fn sub_assign(&mut self, less: $name) {
                *self -= less.0;
            }
        }

        impl AddAssign<f64> for $name {
            fn add_assign(&mut self, more: f64) {
                self.0 += more;
            }
        }

        impl SubAssign<f64> for $name {
            fn sub_assign(&mut self, less: f64) {
                self.0 -= less;
            }
        }

        impl Sum<$name> for f64 {
            fn sum<I: Iterator<Item = $name>>(lengths: I) -> f64 {
                lengths.map(f64::from).sum()
            }
        }

        impl Neg for $name {
            type Output = f64;

            fn neg(self) -> f64 {
                -self.0
            }
        }

        impl Serialize for $name {
            fn serialize<S: Serializer>(&self, writer: S) -> Result<S::Ok, S::Error> {
                write(self.0, writer)
            }
        }

        impl<'de> Deserialize<'de> for $name {
            fn deserialize<D: Deserializer<'de>>(reader: D) -> Result<$name, D::Error> {
                let mm = reader.deserialize_any(Reads { signed: $signed })?;
                if mm.is_finite() {
                    Ok($name(mm))
                } else {
                    Err(D::Error::custom("a length has an end"))
                }
            }
        }

        #[cfg(feature = "schema")]
        impl utoipa::PartialSchema for $name {
            fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
                use utoipa::openapi::schema::{ObjectBuilder, SchemaType, Type};
                ObjectBuilder::new()
                    .schema_type(SchemaType::Array(vec![Type::Number, Type::String]))
                    .description(Some(if $signed {
                        "A length in mm, or text such as `-27 3/4` in the job's unit; may be less than 0"
                    } else {
                        "A length in mm, or text such as `27 3/4` in the job's unit"
                    }))
                    .into()
            }
        }

        #[cfg(feature = "schema")]
        impl utoipa::ToSchema for $name {
            fn name() -> std::borrow::Cow<'static, str> {
                stringify!($name).into()
            }
        }
    };
}

length!(
    /// A length or distance, mm. Text below 0 is refused; what a number may be is checked by whoever holds it.
    Mm,
    false
);
length!(
    /// A length that may run either way, mm.
    SignedMm,
    true
);

macro_rules! arithmetic {
    ($($left:ty, $right:ty);*) => {
        $(
            arithmetic!(@ $left, $right, Add add);
            arithmetic!(@ $left, $right, Sub sub);
            arithmetic!(@ $left, $right, Mul mul);
            arithmetic!(@ $left, $right, Div div);
        )*
    };
    (@ $left:ty, $right:ty, $op:ident $do:ident) => {
        impl $op<$right> for $left {
            type Output = f64;

            fn $do(self, other: $right) -> f64 {
                f64::from(self).$do(f64::from(other))
            }
        }

        impl $op<&$right> for $left {
            type Output = f64;

            fn $do(self, other: &$right) -> f64 {
                self.$do(*other)
            }
        }

        impl $op<$right> for &$left {
            type Output = f64;

            fn $do(self, other: $right) -> f64 {
                (*self).$do(other)
            }
        }

        impl $op<&$right> for &$left {
            type Output = f64;

            fn $do(self, other: &$right) -> f64 {
                (*self).$do(*other)
            }
        }
    };
}

// Sums, differences and shares of lengths are plain numbers: whether they are lengths again, the formula knows.
arithmetic!(
    Mm, f64; f64, Mm; SignedMm, f64; f64, SignedMm; Mm, Mm; SignedMm, SignedMm; Mm, SignedMm; SignedMm, Mm
);
