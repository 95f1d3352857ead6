//! The numbers of the trade and of the rules that stand by themselves: each with what it is, where it comes from
//! and how sure that is. Read once from `data/`, one table a file, each number a field: a name that is not there
//! does not compile, and a file that lacks one, or has one too many, does not load.
//!
//! ```
//! use hold_steady_core::figures::{cooling, limits};
//! assert_eq!(limits().lowest_hold_c.value, 54.4);
//! assert!(cooling().stage_1_min.source.contains("Food Code"));
//! ```

use serde::{Deserialize, Serialize};

use crate::units::{Celsius, Kelvin, Length, Minutes, TemperatureUnit, Units};

/// How sure a value is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Basis {
    /// Written down from memory of the named source, not yet checked against it.
    #[serde(rename = "published (memory)")]
    PublishedFromMemory,
    /// Measured, from open data.
    #[serde(rename = "measured")]
    Measured,
    /// Follows from an equation.
    #[serde(rename = "computed")]
    Computed,
    /// Common practice; there is no source.
    #[serde(rename = "trade")]
    Trade,
    /// Entered by the kitchen.
    #[serde(rename = "kitchen")]
    Kitchen,
}

impl Basis {
    /// The words shown to a reader, the same as in the data files.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::figures::Basis::Trade.words(), "trade");
    /// ```
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::PublishedFromMemory => "published (memory)",
            Self::Measured => "measured",
            Self::Computed => "computed",
            Self::Trade => "trade",
            Self::Kitchen => "kitchen",
        }
    }

    /// What those words mean, in a sentence.
    ///
    /// ```
    /// assert!(hold_steady_core::figures::Basis::Trade.meaning().contains("no source"));
    /// ```
    #[must_use]
    pub const fn meaning(self) -> &'static str {
        match self {
            Self::PublishedFromMemory => {
                "Written down from memory of the named source; not yet checked against it."
            }
            Self::Measured => "Measured; from open data.",
            Self::Computed => "Computed here from the equation and the inputs.",
            Self::Trade => "Common practice; no source proves it.",
            Self::Kitchen => "Entered by this kitchen.",
        }
    }
}

/// A number with its meaning and source.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Figure {
    /// The number; its unit is at the end of its name.
    pub value: f64,
    /// Of a temperature: as its source prints it in whole °F, or on the safe side of that.
    #[serde(default)]
    pub fahrenheit: Option<u32>,
    /// What it is, in a sentence.
    pub what: String,
    /// Where it comes from.
    pub source: String,
    /// How sure it is.
    pub basis: Basis,
}

impl Figure {
    /// The number, of one whose name ends with `_c`.
    #[must_use]
    pub(crate) const fn celsius(&self) -> Celsius {
        Celsius::new(self.value)
    }

    /// A temperature of a rule as it is said to a reader: in °F the code's own figure.
    ///
    /// ```
    /// use hold_steady_core::{figures::limits, units::Units};
    /// let american = Units::from_code("f-in").expect("a code");
    /// let hold = &limits().hot_hold_c;
    /// assert_eq!((hold.degrees(Units::default()), hold.degrees(american)), ("57 °C".into(), "135 °F".into()));
    /// ```
    #[must_use]
    pub fn degrees(&self, units: Units) -> String {
        let own = self.fahrenheit.filter(|_| units.temperature == TemperatureUnit::F);
        own.map_or_else(|| units.temperature(self.celsius()), |f| format!("{f} °F"))
    }

    /// The number, of one whose name ends with `_k`.
    #[must_use]
    pub(crate) const fn kelvin(&self) -> Kelvin {
        Kelvin::new(self.value)
    }

    /// The number, of one whose name ends with `_min`.
    ///
    /// ```
    /// use hold_steady_core::{figures::bench, units::Minutes};
    /// assert_eq!(bench().lid_open_min.minutes(), Minutes::new(bench().lid_open_min.value));
    /// ```
    #[must_use]
    pub const fn minutes(&self) -> Minutes {
        Minutes::new(self.value)
    }

    /// The number, of one whose name ends with `_mm`.
    #[must_use]
    pub(crate) const fn length(&self) -> Length {
        Length::from_mm(self.value)
    }
}

macro_rules! table {
    (
        $(#[$about:meta])* $table:ident, $get:ident, $file:literal:
        $($(#[$doc:meta])* $name:ident),+ $(,)?
    ) => {
        $(#[$about])*
        #[derive(Debug, Clone, PartialEq, Deserialize)]
        #[serde(deny_unknown_fields)]
        pub struct $table { $($(#[$doc])* pub $name: Figure),+ }

        impl $table {
            /// Every figure with its name, for the page that lists them.
            ///
            /// ```
            /// assert!(hold_steady_core::figures::limits().all().iter().any(|(name, _)| *name == "lowest_hold_c"));
            /// ```
            #[must_use]
            pub fn all(&self) -> Vec<(&'static str, &Figure)> {
                vec![$((stringify!($name), &self.$name)),+]
            }
        }

        $(#[$about])*
        ///
        /// ```
        #[doc = concat!("let all = hold_steady_core::figures::", stringify!($get), "().all();")]
        /// assert!(all.iter().all(|(_, figure)| !figure.source.is_empty()));
        /// ```
        #[must_use]
        pub fn $get() -> &'static $table {
            static TABLE: LazyLock<$table> = LazyLock::new(|| {
                serde_json::from_str(include_str!(concat!("../../data/", $file))).expect("shipped and tested")
            });
            &TABLE
        }
    };
}

mod tables;

pub use tables::*;

#[cfg(test)]
mod tests {
    use super::*;

    /// The codes print whole degrees Fahrenheit, and 57 °C of 135 °F is 134.6.
    #[test]
    fn a_rule_is_said_in_whole_degrees_fahrenheit_no_further_off_than_rounding() {
        let american = Units::from_code("f-in").expect("a code");
        for (name, figure) in limits().all().into_iter().filter(|(n, _)| n.ends_with("_c")) {
            let said = figure.degrees(american);
            let f: f64 = said.trim_end_matches(" °F").parse().expect("a number");
            assert!((f - figure.celsius().fahrenheit()).abs() < 1.0 && f.fract() == 0.0, "{name}: {said}");
            assert_eq!(figure.degrees(Units::default()), Units::default().temperature(figure.celsius()));
        }
        assert_eq!(limits().cooked_pierced_c.degrees(american), "155 °F", "68 °C is 154.4");
    }
}
