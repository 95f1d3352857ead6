//! JSON in which no key is given twice: of two values for one name nobody knows which is meant.

use std::collections::BTreeSet;
use std::fmt;

use serde::de::{Deserialize, Deserializer, Error, MapAccess, SeqAccess, Visitor};

/// Looks through a text for keys given twice in one object.
///
/// # Errors
/// With line and column, when the text is not JSON or a key is there twice.
pub(crate) fn check(text: &str) -> Result<(), serde_json::Error> {
    serde_json::from_str::<Strict>(text).map(|Strict| ())
}

/// Any value without doubled keys.
struct Strict;

impl<'de> Deserialize<'de> for Strict {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Self, D::Error> {
        d.deserialize_any(Look)
    }
}

struct Look;

impl<'de> Visitor<'de> for Look {
    type Value = Strict;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a JSON value")
    }

    fn visit_bool<E>(self, _: bool) -> Result<Strict, E> {
        Ok(Strict)
    }

    fn visit_i64<E>(self, _: i64) -> Result<Strict, E> {
        Ok(Strict)
    }

    fn visit_u64<E>(self, _: u64) -> Result<Strict, E> {
        Ok(Strict)
    }

    fn visit_f64<E>(self, _: f64) -> Result<Strict, E> {
        Ok(Strict)
    }

    fn visit_str<E>(self, _: &str) -> Result<Strict, E> {
        Ok(Strict)
    }

    fn visit_unit<E>(self) -> Result<Strict, E> {
        Ok(Strict)
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut items: A) -> Result<Strict, A::Error> {
        while items.next_element::<Strict>()?.is_some() {}
        Ok(Strict)
    }

    fn visit_map<A: MapAccess<'de>>(self, mut fields: A) -> Result<Strict, A::Error> {
        let mut seen = BTreeSet::new();
        while let Some(key) = fields.next_key::<String>()? {
            if seen.contains(&key) {
                let key = crate::units::shortened(&key);
                return Err(A::Error::custom(format!("“{key}” is given twice; give it once")));
            }
            seen.insert(key);
            fields.next_value::<Strict>()?;
        }
        Ok(Strict)
    }
}

#[cfg(test)]
mod tests {
    use super::check;

    #[test]
    fn a_key_given_twice_is_named_wherever_it_is() {
        assert!(check(r#"{"a": 1, "b": [{"a": 1}, {"a": 2}], "c": {"a": null}}"#).is_ok());
        for text in [r#"{"a": 1, "a": 1}"#, r#"[{"b": {"a": true, "x": 1.5, "a": "two"}}]"#] {
            let e = check(text).expect_err("doubled").to_string();
            assert!(e.contains("“a” is given twice") && e.contains("line 1"), "{e}");
        }
        // The same name, spelt with an escape.
        assert!(check(r#"{"thickness_mm": 250, "thickness\u005fmm": 20}"#).is_err());
        assert!(check("{").is_err());
    }
}
