//! Whatever is typed: what we show reads back as what it was, and nothing makes us stumble.

use hold_steady_core::cook::Rating;
use hold_steady_core::plan::{KitchenRules, PlanForm, Setting, resolve_past, resolve_ready};
use hold_steady_core::units::{
    Celsius, Length, LengthUnit, TemperatureUnit, Units, parse_length, parse_seconds, parse_temperature,
};
use jiff::Timestamp;
use jiff::tz::TimeZone;
use proptest::prelude::*;

fn any_units() -> impl Strategy<Value = Units> {
    prop::sample::select(vec!["c-mm", "c-in", "f-mm", "f-in"])
        .prop_map(|code| Units::from_code(code).expect("one of the four"))
}

fn now() -> Timestamp {
    "2026-10-25T00:30:00Z".parse().expect("an instant")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    #[test]
    fn a_length_shown_reads_back_as_itself(mm in 1.0_f64..300.0, units in any_units(), other in any_units()) {
        let shown = units.length(Length::from_mm(mm));
        // The unit is shown, so the reader's own does not matter.
        let read = parse_length(&shown, other.length).expect("our own text");
        // Half a millimetre, or half a sixteenth of an inch; what is small, a twentieth.
        let off = match units.length {
            LengthUnit::Mm if mm >= 10.0 => 0.5,
            LengthUnit::Mm => 0.051,
            LengthUnit::In => 25.4 / 32.0 + 0.001,
        };
        prop_assert!((read.mm() - mm).abs() <= off, "{} for {}", shown, mm);
        prop_assert_eq!(units.length(read), shown);
    }

    #[test]
    fn a_temperature_shown_reads_back_as_itself(c in -40.0_f64..120.0, units in any_units(), other in any_units()) {
        let shown = units.temperature(Celsius::new(c));
        let read = parse_temperature(&shown, other.temperature).expect("our own text");
        // Whole degrees Fahrenheit.
        let off = if units.temperature == TemperatureUnit::C { 0.051 } else { 0.5 / 1.8 + 0.001 };
        prop_assert!((read.value() - c).abs() <= off, "{} for {}", shown, c);
        prop_assert_eq!(units.temperature(read), shown);
    }

    #[test]
    fn no_text_makes_a_field_stumble(text in "\\PC{0,60}", units in any_units()) {
        let zone = TimeZone::get("Europe/Vienna").expect("bundled");
        for error in [
            parse_length(&text, units.length).err().map(|e| e.to_string()),
            parse_temperature(&text, units.temperature).err().map(|e| e.to_string()),
            parse_seconds(&text).err().map(|e| e.to_string()),
            resolve_ready(&text, now(), &zone).err().map(|e| e.to_string()),
            resolve_past(&text, now(), &zone).err().map(|e| e.to_string()),
        ]
        .into_iter()
        .flatten()
        {
            // A sentence, and one that says what would be taken.
            prop_assert!(error.len() > 20 && error.ends_with('.'), "{}", error);
        }
    }

    #[test]
    fn a_sentence_is_never_clamped_and_never_lost(
        thickness in "\\PC{0,20}|[0-9]{1,4}( mm| in|)|[0-9] 1/[248] in",
        bath in "\\PC{0,12}|[0-9]{1,3}( °C|f|)",
        ready in "\\PC{0,16}|[0-2][0-9]:[0-5][0-9]",
        units in any_units(),
    ) {
        let form = PlanForm {
            thickness: thickness.clone(),
            bath: bath.clone(),
            ready: ready.clone(),
            done_was: "own".into(),
            done: "own".into(),
            food: "beef-strip".into(),
            food_was: "beef-strip".into(),
            typed_in: units.code().into(),
            ..PlanForm::default()
        };
        let reading = form.read(&Setting::new(units, now(), &TimeZone::UTC, &KitchenRules::default()));
        prop_assert_eq!(&reading.form.thickness, &thickness);
        prop_assert_eq!(&reading.form.bath, &bath);
        prop_assert_eq!(&reading.form.ready, &ready);
        match reading.request {
            Some(request) => {
                prop_assert!((5.0..=80.0).contains(&request.thickness_mm.mm()));
                prop_assert!((40.0..=85.0).contains(&request.bath_c.value()));
                prop_assert!(reading.errors.is_empty());
            }
            None => prop_assert!(!reading.errors.is_empty()),
        }
    }

    #[test]
    fn marks_off_their_scale_are_unsound(centre in -9_i8..9, band in 0_u8..9) {
        let rating = Rating { centre: Some(centre), band: Some(band), ..Rating::default() };
        prop_assert_eq!(rating.is_sound(), (-2..=2).contains(&centre) && (1..=5).contains(&band));
    }
}
