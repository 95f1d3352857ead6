//! What a number measures: one type a quantity, so that a length can never be handed over where a temperature is
//! wanted, nor minutes where grams are.
//!
//! Each is written to records as the bare number of its field's unit, which stands at the end of the field's name
//! (`bath_c`, `time_min`, `thickness_mm`), so that a reader needs nothing but the file.

use std::iter::Sum;
use std::ops::{Add, AddAssign, Div, Mul, Neg, Sub, SubAssign};

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

/// What all quantities can do: compare, and take the lesser and the greater.
macro_rules! quantity {
    ($(#[$about:meta])* $name:ident) => {
        $(#[$about])*
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default, Serialize, Deserialize)]
        #[serde(transparent)]
        pub struct $name(f64);

        impl $name {
            /// The greater of two.
            ///
            /// ```
            #[doc = concat!("use hold_steady_heat::", stringify!($name), ";")]
            #[doc = concat!("let none = ", stringify!($name), "::default();")]
            /// assert_eq!(none.max(none), none);
            /// ```
            #[must_use]
            pub const fn max(self, other: Self) -> Self {
                Self(self.0.max(other.0))
            }

            /// The lesser of two.
            ///
            /// ```
            #[doc = concat!("use hold_steady_heat::", stringify!($name), ";")]
            #[doc = concat!("let none = ", stringify!($name), "::default();")]
            /// assert_eq!(none.min(none), none);
            /// ```
            #[must_use]
            pub const fn min(self, other: Self) -> Self {
                Self(self.0.min(other.0))
            }
        }
    };
}

/// What those can do that have a zero of their own: add up, and be had several times or in part.
macro_rules! amount {
    ($name:ident) => {
        impl $name {
            /// None of it.
            pub const ZERO: Self = Self(0.0);

            /// In rising order.
            ///
            /// ```
            #[doc = concat!("use hold_steady_heat::", stringify!($name), ";")]
            #[doc = concat!("assert!(", stringify!($name), "::ZERO.total_cmp(&", stringify!($name), "::ZERO).is_eq());")]
            /// ```
            #[must_use]
            pub fn total_cmp(&self, other: &Self) -> std::cmp::Ordering {
                self.0.total_cmp(&other.0)
            }

            /// How much, whichever way.
            ///
            /// ```
            #[doc = concat!("use hold_steady_heat::", stringify!($name), ";")]
            #[doc = concat!("assert_eq!((-", stringify!($name), "::ZERO).abs(), ", stringify!($name), "::ZERO);")]
            /// ```
            #[must_use]
            pub const fn abs(self) -> Self {
                Self(self.0.abs())
            }
        }

        impl Add for $name {
            type Output = Self;
            fn add(self, other: Self) -> Self {
                Self(self.0 + other.0)
            }
        }

        impl Sub for $name {
            type Output = Self;
            fn sub(self, other: Self) -> Self {
                Self(self.0 - other.0)
            }
        }

        impl AddAssign for $name {
            fn add_assign(&mut self, other: Self) {
                self.0 += other.0;
            }
        }

        impl SubAssign for $name {
            fn sub_assign(&mut self, other: Self) {
                self.0 -= other.0;
            }
        }

        impl Neg for $name {
            type Output = Self;
            fn neg(self) -> Self {
                Self(-self.0)
            }
        }

        impl Mul<f64> for $name {
            type Output = Self;
            fn mul(self, times: f64) -> Self {
                Self(self.0 * times)
            }
        }

        impl Div<f64> for $name {
            type Output = Self;
            fn div(self, by: f64) -> Self {
                Self(self.0 / by)
            }
        }

        /// How many times the other it is.
        impl Div for $name {
            type Output = f64;
            fn div(self, other: Self) -> f64 {
                self.0 / other.0
            }
        }

        impl Sum for $name {
            fn sum<I: Iterator<Item = Self>>(all: I) -> Self {
                Self(all.map(|one| one.0).sum())
            }
        }
    };
}

quantity! {
    /// A temperature in degrees Celsius. Two of them differ by [`Kelvin`].
    ///
    /// ```
    /// use hold_steady_heat::{Celsius, Kelvin};
    /// assert!((Celsius::from_fahrenheit(130.0).value() - 54.444).abs() < 0.001);
    /// assert_eq!(Celsius::new(55.0).fahrenheit(), 131.0);
    /// assert_eq!(Celsius::new(55.0) - Kelvin::new(0.5), Celsius::new(54.5));
    /// ```
    Celsius
}

impl Celsius {
    /// Takes degrees Celsius as they are.
    ///
    /// ```
    /// use hold_steady_heat::Celsius;
    /// assert!(Celsius::new(54.0) < Celsius::new(54.4));
    /// ```
    #[must_use]
    pub const fn new(degrees: f64) -> Self {
        Self(degrees)
    }

    /// Converts degrees Fahrenheit: `(F − 32) · 5/9`, exactly.
    ///
    /// ```
    /// use hold_steady_heat::Celsius;
    /// assert_eq!(Celsius::from_fahrenheit(131.0), Celsius::new(55.0));
    /// ```
    #[must_use]
    pub fn from_fahrenheit(degrees: f64) -> Self {
        Self((degrees - 32.0) * 5.0 / 9.0)
    }

    /// Degrees Celsius.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Celsius::new(55.0).value(), 55.0);
    /// ```
    #[must_use]
    pub const fn value(self) -> f64 {
        self.0
    }

    /// The nearest of the temperatures a `step` apart that cooks set.
    ///
    /// ```
    /// use hold_steady_heat::{Celsius, Kelvin};
    /// assert_eq!(Celsius::new(55.3).nearest(Kelvin::new(0.5)), Celsius::new(55.5));
    /// ```
    #[must_use]
    pub fn nearest(self, step: Kelvin) -> Self {
        Self((self.0 / step.0).round() * step.0)
    }

    /// The next of them downward.
    ///
    /// ```
    /// use hold_steady_heat::{Celsius, Kelvin};
    /// assert_eq!(Celsius::new(55.3).floor(Kelvin::new(0.5)), Celsius::new(55.0));
    /// ```
    #[must_use]
    pub fn floor(self, step: Kelvin) -> Self {
        Self((self.0 / step.0).floor() * step.0)
    }

    /// The next of them upward.
    ///
    /// ```
    /// use hold_steady_heat::{Celsius, Kelvin};
    /// assert_eq!(Celsius::new(55.3).ceil(Kelvin::new(0.5)), Celsius::new(55.5));
    /// ```
    #[must_use]
    pub fn ceil(self, step: Kelvin) -> Self {
        Self((self.0 / step.0).ceil() * step.0)
    }

    /// Degrees Fahrenheit.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Celsius::new(55.0).fahrenheit(), 131.0);
    /// ```
    #[must_use]
    pub fn fahrenheit(self) -> f64 {
        self.0 * 9.0 / 5.0 + 32.0
    }
}

impl Sub for Celsius {
    type Output = Kelvin;
    fn sub(self, other: Self) -> Kelvin {
        Kelvin(self.0 - other.0)
    }
}

impl Add<Kelvin> for Celsius {
    type Output = Self;
    fn add(self, by: Kelvin) -> Self {
        Self(self.0 + by.0)
    }
}

impl Sub<Kelvin> for Celsius {
    type Output = Self;
    fn sub(self, by: Kelvin) -> Self {
        Self(self.0 - by.0)
    }
}

quantity! {
    /// A difference of temperatures: what one is off from another, a spread, an error. Never a temperature.
    ///
    /// ```
    /// use hold_steady_heat::{Celsius, Kelvin};
    /// let short: Kelvin = Celsius::new(55.0) - Celsius::new(53.5);
    /// assert_eq!(short.value(), 1.5);
    /// ```
    Kelvin
}
amount!(Kelvin);

impl Kelvin {
    /// Takes kelvin.
    ///
    /// ```
    /// use hold_steady_heat::Kelvin;
    /// assert_eq!(Kelvin::new(0.3) + Kelvin::new(0.2), Kelvin::new(0.5));
    /// ```
    #[must_use]
    pub const fn new(kelvin: f64) -> Self {
        Self(kelvin)
    }

    /// Kelvin; a difference of as many degrees Celsius.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Kelvin::new(0.5).value(), 0.5);
    /// ```
    #[must_use]
    pub const fn value(self) -> f64 {
        self.0
    }
}

quantity! {
    /// A time in minutes: from the drop, on a clock, or from one instant to another. Below zero it lies before.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// let noon: jiff::Timestamp = "2026-11-25T12:00:00Z".parse()?;
    /// let early = noon - jiff::SignedDuration::from_mins(90);
    /// assert_eq!(early.to_string(), "2026-11-25T10:30:00Z");
    /// assert_eq!(Minutes::between(early, noon), Minutes::from_hours(1.5));
    /// # Ok::<(), jiff::Error>(())
    /// ```
    Minutes
}
amount!(Minutes);

/// Seconds in a minute, and minutes in an hour.
const SIXTY: f64 = 60.0;

impl Minutes {
    /// Longer than anything: what never comes.
    pub const NEVER: Self = Self(f64::INFINITY);

    /// Takes minutes.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::new(45.0) * 2.0, Minutes::from_hours(1.5));
    /// ```
    #[must_use]
    pub const fn new(minutes: f64) -> Self {
        Self(minutes)
    }

    /// Takes hours.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::from_hours(2.0), Minutes::new(120.0));
    /// ```
    #[must_use]
    pub const fn from_hours(hours: f64) -> Self {
        Self(hours * SIXTY)
    }

    /// Takes seconds, as the solver counts.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::from_seconds(90.0), Minutes::new(1.5));
    /// ```
    #[must_use]
    pub const fn from_seconds(seconds: f64) -> Self {
        Self(seconds / SIXTY)
    }

    /// The last whole minute before a limit, by more than rounding: what is decided there is decided the same a hair earlier.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::new(44.0).whole_before(), Minutes::new(43.0));
    /// assert_eq!(Minutes::new(44.6).whole_before(), Minutes::new(44.0));
    /// ```
    #[must_use]
    pub fn whole_before(self) -> Self {
        const HAIR: f64 = 0.02;
        Self((self.0 - HAIR).floor())
    }

    /// From one instant to another; below zero when the other is earlier.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// let (noon, one): (jiff::Timestamp, jiff::Timestamp) = ("2026-11-25T12:00:00Z".parse()?, "2026-11-25T13:00:00Z".parse()?);
    /// assert_eq!(Minutes::between(one, noon), -Minutes::from_hours(1.0));
    /// # Ok::<(), jiff::Error>(())
    /// ```
    #[must_use]
    pub fn between(from: Timestamp, to: Timestamp) -> Self {
        Self::from_seconds(to.duration_since(from).as_secs_f64())
    }

    /// Minutes.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Minutes::from_hours(1.5).value(), 90.0);
    /// ```
    #[must_use]
    pub const fn value(self) -> f64 {
        self.0
    }

    /// Seconds, as the solver counts.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::new(1.5).seconds(), 90.0);
    /// ```
    #[must_use]
    pub const fn seconds(self) -> f64 {
        self.0 * SIXTY
    }

    /// The next whole minute: nobody sets a timer to seconds.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::new(71.2).ceil(), Minutes::new(72.0));
    /// ```
    #[must_use]
    pub fn ceil(self) -> Self {
        Self(self.0.ceil())
    }

    /// The whole minute before.
    ///
    /// ```
    /// use hold_steady_heat::Minutes;
    /// assert_eq!(Minutes::new(71.2).floor(), Minutes::new(71.0));
    /// ```
    #[must_use]
    pub fn floor(self) -> Self {
        Self(self.0.floor())
    }
}

quantity! {
    /// A length in millimetres, as a cook measures it; the solver takes metres.
    ///
    /// ```
    /// use hold_steady_heat::Length;
    /// assert_eq!(Length::from_mm(25.4).inches(), 1.0);
    /// assert_eq!(Length::from_inches(1.5).mm(), 38.1);
    /// ```
    Length
}
amount!(Length);

/// Millimetres in an inch, exact since 1959.
const MM_PER_INCH: f64 = 25.4;

impl Length {
    /// Takes millimetres.
    ///
    /// ```
    /// use hold_steady_heat::Length;
    /// assert_eq!(Length::from_mm(30.0) / 2.0, Length::from_mm(15.0));
    /// ```
    #[must_use]
    pub const fn from_mm(mm: f64) -> Self {
        Self(mm)
    }

    /// Takes inches of exactly 25.4 mm.
    ///
    /// ```
    /// use hold_steady_heat::Length;
    /// assert_eq!(Length::from_inches(1.25), Length::from_mm(31.75));
    /// ```
    #[must_use]
    pub fn from_inches(inches: f64) -> Self {
        Self(undusted(inches * MM_PER_INCH))
    }

    /// Metres.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Length::from_mm(25.0).metres(), 0.025);
    /// ```
    #[must_use]
    pub const fn metres(self) -> f64 {
        self.0 / 1000.0
    }

    /// Millimetres.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Length::from_mm(25.0).mm(), 25.0);
    /// ```
    #[must_use]
    pub const fn mm(self) -> f64 {
        self.0
    }

    /// The next length downward of those a `step` apart.
    ///
    /// ```
    /// use hold_steady_heat::Length;
    /// assert_eq!(Length::from_mm(27.3).floor(Length::from_mm(0.5)), Length::from_mm(27.0));
    /// ```
    #[must_use]
    pub fn floor(self, step: Self) -> Self {
        Self((self.0 / step.0).floor() * step.0)
    }

    /// Inches.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Length::from_mm(31.75).inches(), 1.25);
    /// ```
    #[must_use]
    pub fn inches(self) -> f64 {
        self.0 / MM_PER_INCH
    }
}

/// Free of the rounding dust of a conversion: nine decimals.
fn undusted(mm: f64) -> f64 {
    (mm * 1e9).round() / 1e9
}

quantity! {
    /// A mass in grams.
    ///
    /// ```
    /// use hold_steady_heat::Grams;
    /// assert_eq!(Grams::new(300.0).value(), 300.0);
    /// ```
    Grams
}
amount!(Grams);

impl Grams {
    /// Takes grams.
    ///
    /// ```
    /// use hold_steady_heat::Grams;
    /// assert!(Grams::new(300.0) > Grams::ZERO);
    /// ```
    #[must_use]
    pub const fn new(grams: f64) -> Self {
        Self(grams)
    }

    /// Grams.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Grams::new(300.0).value(), 300.0);
    /// ```
    #[must_use]
    pub const fn value(self) -> f64 {
        self.0
    }

    /// The next whole gram.
    ///
    /// ```
    /// use hold_steady_heat::Grams;
    /// assert_eq!(Grams::new(299.2).ceil(), Grams::new(300.0));
    /// ```
    #[must_use]
    pub fn ceil(self) -> Self {
        Self(self.0.ceil())
    }

    /// Kilograms, as the solver counts.
    ///
    /// ```
    /// use hold_steady_heat::Grams;
    /// assert_eq!(Grams::new(300.0).kilograms(), 0.3);
    /// ```
    #[must_use]
    pub const fn kilograms(self) -> f64 {
        self.0 / 1000.0
    }
}

/// One thing at the ends of what is uncertain in a kitchen, and in the middle: a time, a temperature, a piece.
///
/// ```
/// use hold_steady_heat::{Ends, Minutes};
/// let through = Ends { slow: 71.0, middle: 66.0, fast: 60.0 }.map(Minutes::new);
/// assert!(through.fast < through.slow);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Ends<T> {
    /// Thinner, warmer: for texture.
    pub fast: T,
    /// As stated.
    #[serde(rename = "nominal")]
    pub middle: T,
    /// Thicker, colder: for safety.
    pub slow: T,
}

impl<T> Ends<T> {
    /// The same done to each.
    ///
    /// ```
    /// use hold_steady_heat::{Ends, Minutes};
    /// let ends = Ends { slow: 71.2, middle: 66.0, fast: 60.4 }.map(|m| Minutes::new(m).ceil());
    /// assert_eq!(ends.slow, Minutes::new(72.0));
    /// ```
    pub fn map<U>(self, f: impl Fn(T) -> U) -> Ends<U> {
        Ends { fast: f(self.fast), middle: f(self.middle), slow: f(self.slow) }
    }
}
