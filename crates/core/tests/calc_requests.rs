//! Requests that cannot be taken: every bad field named, and never a panic.

use hold_steady_core::calc;
use proptest::prelude::*;
use serde_json::{Value, json};

fn fields(request: &Value) -> Vec<String> {
    match calc::run("heat", request) {
        Ok(_) => Vec::new(),
        Err(e) => e.fields.into_iter().map(|f| f.field).collect(),
    }
}

fn good() -> Value {
    json!({"food": "beef-strip", "thickness_mm": 25, "start_c": 5, "bath_c": 55, "until_min": 30})
}

#[test]
fn every_bad_field_is_named_at_once() {
    let bad = json!({"food": "beef-stripe", "thickness_mm": -3, "start_c": "cold", "until_min": 1e9,
                     "intact": "yes", "colour": "red", "profile": "home", "state": "boiled", "shape": "cube"});
    let mut got = fields(&bad);
    got.sort();
    assert_eq!(
        got,
        [
            "bath_c",
            "colour",
            "food",
            "intact",
            "profile",
            "shape",
            "start_c",
            "state",
            "thickness_mm",
            "until_min"
        ]
    );
}

#[test]
fn contradictions_and_ranges_are_refused() {
    assert!(fields(&good()).is_empty());
    for (name, value, field) in [
        ("bath", json!([{"min": 0, "c": 55}]), "bath"),
        ("parasites", json!("frozen"), "parasites"),
        ("properties", json!({"diffusivity_m2_s": 1.4e-7}), "properties.conductivity_w_mk"),
        (
            "properties",
            json!({"diffusivity_m2_s": 1.4e-7, "conductivity_w_mk": 0.48, "colour": 1}),
            "properties.colour",
        ),
        ("properties", json!(7), "properties"),
        ("surface_w_m2k", json!(0), "surface_w_m2k"),
        ("altitude_m", json!(9e9), "altitude_m"),
        ("thickness_mm", json!(null), "thickness_mm"),
    ] {
        let mut request = good();
        request[name] = value;
        assert_eq!(fields(&request), [field], "{request}");
    }
    let frozen = json!({"food": "beef-strip", "thickness_mm": 25, "start_c": -5, "bath_c": 55,
                        "properties": {"diffusivity_m2_s": 1.4e-7, "conductivity_w_mk": 0.48}});
    assert_eq!(fields(&frozen), ["start_c"]);
    let mut trace = good();
    trace.as_object_mut().expect("an object").remove("bath_c");
    trace["bath"] = json!([{"min": 0, "c": 55}, {"min": 10, "c": 200}, {"min": 5}]);
    assert_eq!(fields(&trace), ["bath[1].c", "bath[2].c"]);
    trace["bath"] = json!([{"min": 0, "c": 55}, {"min": 10, "c": 54}, {"min": 5, "c": 53}]);
    assert_eq!(fields(&trace), ["bath"]);
}

#[test]
fn until_defaults_to_the_later_of_kinetics_and_table() {
    let mut request = good();
    request.as_object_mut().expect("an object").remove("until_min");
    let answer = calc::run("heat", &request).expect("complete");
    let (k, c) = (answer["pasteurized_min"].as_f64(), answer["code_min"].as_f64());
    let later = k.expect("reached").max(c.expect("reached"));
    assert_eq!(answer["until_min"].as_f64(), Some(later.ceil()));
    assert_eq!(answer["curve"].as_array().map(Vec::len), Some(later.ceil() as usize + 1));
    request["bath_c"] = json!(52);
    assert_eq!(calc::run("heat", &request).expect("complete")["until_min"], 240.0);
}

#[test]
fn the_curve_starts_as_the_piece_went_in() {
    let answer = calc::run("heat", &good()).expect("complete");
    assert_eq!(answer["curve"][0], json!({"min": 0, "centre_c": 5.0, "surface_c": 5.0, "mean_c": 5.0}));
}

fn json_values() -> impl Strategy<Value = Value> {
    let leaf = prop_oneof![
        Just(Value::Null),
        any::<bool>().prop_map(Value::from),
        any::<f64>().prop_map(|x| json!(x)),
        (-500_i64..7000).prop_map(Value::from),
        prop::sample::select(vec!["beef-strip", "slab", "sphere", "raw", "food-code-2022", ""])
            .prop_map(Value::from),
        "\\PC{0,12}".prop_map(Value::from),
    ];
    leaf.prop_recursive(2, 12, 4, |inner| {
        let keys = prop::sample::select(vec!["min", "c", "diffusivity_m2_s", "conductivity_w_mk", "x"]);
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..4).prop_map(Value::from),
            prop::collection::btree_map(keys.prop_map(str::to_owned), inner, 0..4)
                .prop_map(|m| Value::Object(m.into_iter().collect())),
        ]
    })
}

const FIELDS: [&str; 18] = [
    "food",
    "shape",
    "thickness_mm",
    "start_c",
    "bath_c",
    "bath",
    "until_min",
    "intact",
    "at_risk",
    "profile",
    "state",
    "properties",
    "surface_w_m2k",
    "bath_error_c",
    "altitude_m",
    "parasites",
    "use",
    "nonsense",
];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(4000))]

    #[test]
    fn no_request_makes_it_panic(
        wrong in prop::collection::btree_map(prop::sample::select(FIELDS.to_vec()), json_values(), 0..5),
        keep: bool,
    ) {
        let mut request = if keep { good() } else { json!({}) };
        for (k, v) in wrong {
            request[k] = v;
        }
        if let Err(e) = calc::run("heat", &request) {
            prop_assert!(!e.fields.is_empty() && e.fields.iter().all(|f| !f.message.is_empty()));
        }
    }

    #[test]
    fn no_text_makes_it_panic(text in "\\PC{0,200}") {
        prop_assert!(calc::run_text("heat", &text).is_err());
    }
}

/// The fields a kind takes, by its own word: what it says when asked for one that is not there.
fn taken(kind: &str) -> Vec<String> {
    let refused = calc::run(kind, &json!({"no such field": 1})).expect_err("incomplete");
    let said = refused.fields.iter().find(|f| f.field == "no such field").expect("named");
    let list = said.message.split("there is: ").nth(1).expect("a list");
    list.split(", ").map(str::to_owned).collect()
}

#[test]
fn the_description_names_exactly_what_is_taken_and_answered() {
    let api = calc::openapi();
    let schemas = &api["components"]["schemas"];
    let keys = |v: &Value| {
        let mut keys: Vec<String> = v.as_object().expect("an object").keys().cloned().collect();
        keys.sort();
        keys
    };
    let block = json!({"food": "turkey-breast", "shape": "block"});
    for kind in calc::KINDS {
        let mut fields = taken(kind);
        // A block's sides are asked for once its shape is known.
        if let Err(e) = calc::run(kind, &block) {
            fields.extend(
                e.fields
                    .into_iter()
                    .map(|f| f.field)
                    .filter(|f| f.starts_with("width") || f.starts_with("length")),
            );
        }
        fields.sort();
        fields.dedup();
        assert_eq!(keys(&schemas[format!("{kind}Request")]["properties"]), fields, "{kind}");
    }
    let heat = calc::run("heat", &good()).expect("complete");
    assert_eq!(keys(&schemas["heatAnswer"]["properties"]), keys(&heat));
    assert_eq!(keys(&schemas["heatAnswer"]["properties"]["verdict"]["properties"]), keys(&heat["verdict"]));
    let way_out = &schemas["heatAnswer"]["properties"]["verdict"]["properties"]["way_out"];
    assert_eq!(keys(&way_out["properties"]), keys(&heat["verdict"]["way_out"]));
    let request =
        json!({"food": "burger", "thickness_mm": 25, "start_c": 60, "method": "ice-bath", "mass_kg": 1});
    let chill = calc::run("chill", &request).expect("complete");
    assert_eq!(keys(&schemas["chillAnswer"]["properties"]), keys(&chill));
}

#[test]
fn chill_names_what_it_cannot_take() {
    let bad = json!({"food": "burger", "thickness_mm": 25, "start_c": 200, "method": "snow", "mass_kg": -1, "at_risk": true});
    let mut got: Vec<String> =
        calc::run("chill", &bad).expect_err("bad").fields.into_iter().map(|f| f.field).collect();
    got.sort();
    assert_eq!(got, ["at_risk", "mass_kg", "method", "start_c"]);
}
