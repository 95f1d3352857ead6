//! The interface's own description (OpenAPI 3.1), generated from the ranges, words and catalogue the
//! requests are read with. `tests/calc_requests.rs` holds it against what is really taken and answered.

use serde_json::{Map, Value, json};

use super::MOST_EFFORT;
use super::bath::{covers, range as of_bath};
use super::heat::range;
use super::sear::{COOLED_IN, FACES as SEARED, TURNED, range as of_sear};
use crate::food::catalogue;
use crate::safety::profiles;

/// A field: its name, its schema, whether it is needed.
type Field = (&'static str, Value, bool);

fn number((low, high): (f64, f64), what: &str) -> Value {
    json!({"type": "number", "minimum": low, "maximum": high, "description": what})
}

fn words(words: &[&str], what: &str) -> Value {
    json!({"type": "string", "enum": words, "description": what})
}

fn flag(what: &str) -> Value {
    json!({"type": "boolean", "description": what})
}

fn maybe_number(what: &str) -> Value {
    json!({"type": ["number", "null"], "description": what})
}

fn object(fields: Vec<Field>) -> Value {
    let needed: Vec<&str> = fields.iter().filter(|f| f.2).map(|f| f.0).collect();
    let properties: Map<String, Value> = fields.into_iter().map(|f| (f.0.to_owned(), f.1)).collect();
    json!({"type": "object", "additionalProperties": false, "properties": properties, "required": needed})
}

fn piece_fields() -> Vec<Field> {
    let foods: Vec<&str> = catalogue().foods.iter().map(|f| f.id.as_str()).collect();
    vec![
        ("food", words(&foods, "Identifier in the catalogue."), true),
        (
            "shape",
            words(
                &["slab", "cylinder", "sphere", "block"],
                "The food's usual shape when absent; for one that is usually a block, a slab unless its sides are given.",
            ),
            false,
        ),
        (
            "thickness_mm",
            number(range::THICKNESS_MM, "Thickness or diameter; a block's smallest side, mm."),
            true,
        ),
        ("width_mm", number(range::SIDE_MM, "A block's width, mm; for blocks only."), false),
        ("length_mm", number(range::SIDE_MM, "A block's length, mm; for blocks only."), false),
    ]
}

fn heat_request() -> Value {
    let ids: Vec<&str> = profiles().iter().map(|p| p.id.as_str()).collect();
    let point = object(vec![
        ("min", number((0.0, range::UNTIL_MIN.1), "Minutes from the drop, rising."), true),
        ("c", number(range::BATH_C, "°C."), true),
    ]);
    let properties = object(vec![
        ("diffusivity_m2_s", number(range::DIFFUSIVITY_M2_S, "m²/s."), true),
        ("conductivity_w_mk", number(range::CONDUCTIVITY_W_MK, "W/mK."), true),
    ]);
    let mut fields = piece_fields();
    fields.extend([
        ("start_c", number(range::START_C, "Temperature throughout when it goes in, °C; below freezing means frozen."), true),
        ("bath_c", number(range::BATH_C, "Constant bath, °C; this or `bath`."), false),
        ("bath", json!({"type": "array", "minItems": 1, "maxItems": range::MOST_POINTS, "items": point, "description": "Straight between points, flat after the last; in place of `bath_c`."}), false),
        ("until_min", number(range::UNTIL_MIN, "When everything is judged; the bath is looked at up to then and no further. By default the later of the kinetics' and the table's time, 240 if one is never reached."), false),
        ("intact", flag("Whole muscle, never pierced. Absent means not intact for meat that can be."), false),
        ("at_risk", flag("A guest is very young, old, pregnant or ill; false when absent."), false),
        ("profile", words(&ids, "The code to go by; the first when absent."), false),
        ("for_shelf", flag("A jar or bag meant to stand on a shelf; false when absent."), false),
        ("state", words(&["raw", "pasteurized-chilled"], "Raw when absent."), false),
        ("prepared", flag("Beans boiled hard for half an hour, or milk scalded and cooled with a live starter; false when absent."), false),
        ("out_min", number(range::AROUND_MIN, "Minutes a raw piece stood at `start_c` before; absent and `start_c` above 10: 120 are counted."), false),
        ("waited_min", number(range::AROUND_MIN, "Minutes between 5 °C and the bath after that, such as afloat; they count on every growth clock; 0 when absent."), false),
        ("set_c", number(range::BATH_C, "What the bath was set to, where `bath` is what was read in it: the gates are then asked of the mean of the last hour of readings that agree with it. Absent: `bath` is the water itself."), false),
        ("slow_end", json!({"type": "boolean", "default": false, "description": "Every time from the slow end of the food's usual spreads; each growth clock from whichever end runs out first."}), false),
        ("after_min", number(range::AROUND_MIN, "Minutes from `until_min` to the plate, at room air; 0 when absent."), false),
        ("water", words(&["circulated", "still"], "Used when `surface_w_m2k` is absent; circulated when absent."), false),
        ("parasites", words(&["none", "frozen", "exempt"], "For fish only; none when absent. `exempt` counts for kinds that can be exempt: listed tunas, farmed salmon and trout."), false),
        ("use", words(&["raw", "soft"], "For eggs in the shell only; raw when absent."), false),
        ("properties", properties, false),
        ("surface_w_m2k", number(range::SURFACE_W_M2K, "Coefficient of heat transfer, W/m²K; when absent a circulated bath's (95), and 400 for an egg, bare in its shell."), false),
        ("bath_error_c", number(range::BATH_ERROR_C, "What the instrument reads too high, °C; 0 when absent."), false),
        ("altitude_m", number(range::ALTITUDE_M, "Altitude, m; 0 when absent. A bath above the boil there is refused."), false),
    ]);
    object(fields)
}

fn chill_request() -> Value {
    let mut fields = piece_fields();
    fields.extend([
        ("start_c", number(range::COOL_FROM_C, "Temperature throughout when it goes in, °C."), true),
        ("method", words(&super::chill::methods(), "What cools it."), true),
        (
            "around_c",
            number(
                (range::START_C.0, range::COOL_FROM_C.1),
                "Its temperature, °C; the method's own when absent.",
            ),
            false,
        ),
        (
            "surface_w_m2k",
            number(
                range::SURFACE_W_M2K,
                "Coefficient of heat transfer, W/m²K; the method's own when absent.",
            ),
            false,
        ),
        ("mass_kg", number(range::MASS_KG, "All there is of it, kg, for the ice that melts."), false),
        ("until_min", number(range::COOL_UNTIL_MIN, "Where the curve ends; 360 when absent."), false),
    ]);
    object(fields)
}

/// The kitchen around a bath.
fn air_fields() -> Vec<Field> {
    vec![
        ("room_c", number(of_bath::ROOM_C, "The room, °C; 20 when absent."), false),
        ("humidity", number(of_bath::HUMIDITY, "Relative humidity; 0.5 when absent."), false),
        ("altitude_m", number(range::ALTITUDE_M, "Altitude, m; 0 when absent."), false),
        ("cover", words(&covers(), "What lies over the water; none when absent."), false),
    ]
}

fn mix_request() -> Value {
    object(vec![
        ("litres", number(of_bath::LITRES, "Water in the vessel, l."), true),
        ("now_c", number(of_bath::WATER_C, "What it is, °C."), true),
        ("want_c", number(of_bath::WATER_C, "What it should be, °C."), true),
        (
            "add_c",
            number(
                of_bath::WATER_C,
                "Water there is to add, °C; on the other side of `want_c` than `now_c`.",
            ),
            true,
        ),
        (
            "capacity_l",
            number(
                of_bath::LITRES,
                "What the vessel holds, l; no less than `litres`; all of it when absent.",
            ),
            false,
        ),
    ])
}

fn warmup_request() -> Value {
    let mut fields = vec![
        ("litres", number(of_bath::LITRES, "Water, l."), true),
        ("now_c", number(of_bath::WATER_C, "What it is, °C."), true),
        ("target_c", number(of_bath::WATER_C, "What it should be, °C; no more than the boil."), true),
        ("heater_w", number(of_bath::HEATER_W, "Heater, W."), true),
        ("surface_m2", number(of_bath::SURFACE_M2, "Open surface, m²; 0 when absent."), false),
        ("loss_w_k", number(of_bath::LOSS_W_K, "Loss besides evaporation, W/K; 2 when absent."), false),
    ];
    fields.extend(air_fields());
    object(fields)
}

fn load_request() -> Value {
    let mut fields = vec![
        ("litres", number(of_bath::LITRES, "Water, l."), true),
        ("bath_c", number(of_bath::WATER_C, "Bath, °C."), true),
        ("food_kg", number(range::MASS_KG, "Food that goes in, kg."), true),
        (
            "food_c",
            number(
                of_bath::FOOD_C,
                "Its temperature, °C; below freezing means frozen; no warmer than the bath.",
            ),
            true,
        ),
        (
            "heater_w",
            number(of_bath::HEATER_W, "Heater, W: all of it for the food, unless losses are given."),
            true,
        ),
        ("thickness_mm", number(range::THICKNESS_MM, "Thickness of a piece, mm; 25 when absent."), false),
        (
            "surface_w_m2k",
            number(range::SURFACE_W_M2K, "Coefficient of heat transfer, W/m²K; 95 when absent."),
            false,
        ),
        ("surface_m2", number(of_bath::SURFACE_M2, "Open surface, m²; 0 when absent."), false),
        ("loss_w_k", number(of_bath::LOSS_W_K, "Loss besides evaporation, W/K; 0 when absent."), false),
    ];
    fields.extend(air_fields());
    object(fields)
}

/// A point of a profile: how deep, and how warm.
fn profile_point() -> Value {
    object(vec![
        (
            "depth_mm",
            number((0.0, of_sear::THICKNESS_MM.1 / 2.0), "Under a face, to the middle at most, mm."),
            true,
        ),
        ("c", number(of_sear::CENTRE_C, "°C."), true),
    ])
}

/// A turn of a pattern of its own.
fn sear_turn() -> Value {
    object(vec![
        ("face", words(&TURNED, "Which face is down; first when absent."), false),
        ("s", number(of_sear::TURN_S, "Seconds."), true),
    ])
}

/// A pan that is not held at its temperature.
fn pan_of_its_own() -> Value {
    let mut pan = object(vec![
        (
            "areal_j_m2k",
            number(of_sear::AREAL_J_M2K, "Its heat capacity for a square metre of meat, J/m²K."),
            true,
        ),
        (
            "burner_w_m2",
            number(of_sear::BURNER_W_M2, "What its burner brings, net, W/m²; 0 when absent."),
            false,
        ),
        (
            "start_c",
            number(of_sear::PAN_START_C, "Its temperature at first, °C; `surface_c` when absent."),
            false,
        ),
    ]);
    pan["description"] =
        json!("A pan with a mass of its own: it falls under the meat, and a cold one rises to `surface_c`.");
    pan
}

/// The piece, and how it was cooled before.
fn seared_piece() -> Vec<Field> {
    let foods: Vec<&str> = catalogue().foods.iter().map(|f| f.id.as_str()).collect();
    vec![
        ("food", words(&foods, "Identifier in the catalogue."), true),
        ("thickness_mm", number(of_sear::THICKNESS_MM, "Face to face, mm."), true),
        (
            "centre_c",
            number(of_sear::CENTRE_C, "Throughout, when it leaves its bath, °C. This or start_profile."),
            false,
        ),
        (
            "start_profile",
            json!({"type": "array", "minItems": of_sear::POINTS.0, "maxItems": of_sear::POINTS.1, "items": profile_point(),
                   "description": "By depth from a face to the middle, rising; the other half is the same."}),
            false,
        ),
        ("cool_min", number(of_sear::COOL_MIN, "Cooled before, minutes; 0 when absent."), false),
        ("cool_in", words(&COOLED_IN, "In what; air when absent."), false),
        ("cool_exposed_faces", number(of_sear::FACES, "Faces to the air, 1 or 2; 2 when absent."), false),
    ]
}

/// What it is seared on, for how long, and what comes after.
fn seared_on() -> Vec<Field> {
    vec![
        ("surface_c", number(of_sear::SURFACE_C, "What it is seared on, °C; it stays so."), true),
        (
            "surface_w_m2k",
            number(of_sear::SURFACE_W_M2K, "Contact with a wet face, W/m²K; 275 when absent."),
            false,
        ),
        (
            "turns_s",
            json!({"type": "array", "minItems": 1, "maxItems": of_sear::TURNS,
                   "items": number(of_sear::TURN_S, "Seconds."),
                   "description": "Seconds on the heat, a face in turn or all on one, as `faces` says. This or `turns`."}),
            false,
        ),
        ("faces", words(&SEARED, "Which face each of `turns_s` is of; alternate when absent."), false),
        (
            "turns",
            json!({"type": "array", "minItems": 1, "maxItems": of_sear::TURNS, "items": sear_turn(),
                   "description": "A pattern of its own: face by face, in order."}),
            false,
        ),
        ("pan", pan_of_its_own(), false),
        (
            "fat_mm",
            number(of_sear::FAT_MM, "Skin and fat on the first face, mm of the thickness; 0 when absent."),
            false,
        ),
        (
            "basted",
            flag("Hot fat is spooned over the face that is not on the heat; false when absent."),
            false,
        ),
        (
            "torch_s",
            number(
                of_sear::TORCH_S,
                "Under a torch that sweeps, after the pan, each face that was on it, seconds; 0 when absent.",
            ),
            false,
        ),
        ("both_faces", flag("Each turn heats both faces at once; false when absent."), false),
        ("dried", flag("Patted dry; true when absent."), false),
        ("rest_min", number(of_sear::REST_MIN, "Followed on a board after, minutes; 15 when absent."), false),
        ("altitude_m", number(range::ALTITUDE_M, "Where the kitchen is, m; 0 when absent."), false),
        (
            "overcooked_above_c",
            number(of_sear::ABOVE_C, "Ever hotter counts as the band, °C; 70 when absent."),
            false,
        ),
    ]
}

fn sear_request() -> Value {
    object(seared_piece().into_iter().chain(seared_on()).collect())
}

fn sear_answer() -> Value {
    let two = |what: &str| json!({"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2, "description": what});
    let layer = object(vec![
        ("depth_mm", figure("Under the face seared first, mm."), true),
        ("end_c", figure("At the end of the rest, °C."), true),
        ("max_c", figure("Hottest it ever was, °C."), true),
    ]);
    object(vec![
        ("centre_before_c", figure("Middle when it goes on the heat, °C."), true),
        ("centre_end_c", figure("When it comes off, °C."), true),
        ("centre_peak_c", figure("Hottest it gets, °C."), true),
        (
            "peak_after_s",
            maybe_number("How long after the last turn, s; null where the centre only cools."),
            true,
        ),
        (
            "overcooked_mm",
            figure("How deep from a face it was ever hotter, the deeper of the two, mm."),
            true,
        ),
        ("overcooked_above_c", figure("Hotter than this, °C."), true),
        ("crust_mm", figure("Dry crust, mean of the two faces, mm."), true),
        ("water_lost_kg_m2", figure("Water lost, kg/m²."), true),
        (
            "browning_index",
            two("Each face: minutes at 160 °C at its surface while it was dry. An index, not a measurement."),
            true,
        ),
        ("surface_peak_c", two("Hottest each face was, °C: dark from about 200, char from about 240."), true),
        ("profile", json!({"type": "array", "items": layer}), true),
    ])
}

fn evaporation_request() -> Value {
    let mut fields = vec![
        ("water_c", number(of_bath::WATER_C, "Water, °C; no more than the boil."), true),
        ("surface_m2", number(of_bath::SURFACE_M2, "Open surface, m²."), true),
    ];
    fields.extend(air_fields());
    object(fields)
}

fn figure(what: &str) -> Value {
    json!({"type": "number", "description": what})
}

fn mix_answer() -> Value {
    object(vec![
        ("add_l", figure("Water to add, l."), true),
        ("remove_l", figure("Water to take off first so that it fits, l."), true),
    ])
}

fn warmup_answer() -> Value {
    object(vec![
        ("min", maybe_number("Minutes; null where it is never reached."), true),
        ("reachable", flag("Whether it is reached at all."), true),
    ])
}

fn load_answer() -> Value {
    object(vec![
        ("drop_c", figure("Water and food at one temperature at once: the most it can drop, K."), true),
        ("lowest_c", figure("The lowest the water comes to, °C."), true),
        (
            "recovery_min",
            maybe_number("Minutes until it is back within 0.1 K; null where it never is."),
            true,
        ),
        ("level_rise_l", figure("Water the food displaces, l."), true),
    ])
}

fn evaporation_answer() -> Value {
    object(vec![
        ("kg_per_h", figure("Water that leaves into still air, kg/h."), true),
        (
            "high_kg_per_h",
            figure("The same in a draught or under a hood: what topping up counts, kg/h."),
            true,
        ),
        ("heat_w", figure("Heat it takes in still air, W."), true),
    ])
}

fn reasons() -> Value {
    let text = || json!({"type": "string"});
    json!({"type": "array", "items": object(vec![("rule", text(), true), ("text", text(), true), ("source", text(), true), ("basis", text(), true)])})
}

fn curve() -> Value {
    let c = || json!({"type": "number", "description": "°C."});
    json!({"type": "array", "items": object(vec![("min", json!({"type": "integer"}), true), ("centre_c", c(), true), ("surface_c", c(), true), ("mean_c", c(), true)])})
}

fn heat_answer() -> Value {
    let kill = object(vec![
        ("organism", json!({"type": "string"}), true),
        ("log10", json!({"type": "number"}), true),
        ("target_log10", json!({"type": "number"}), true),
        ("reached_min", maybe_number("When the target was reached."), true),
    ]);
    let texture = object(vec![
        ("best_from_min", json!({"type": "number"}), true),
        ("best_until_min", json!({"type": "number"}), true),
        ("basis", json!({"type": "string"}), true),
    ]);
    object(vec![
        ("until_min", json!({"type": "number"}), true),
        (
            "heated_through_min",
            maybe_number(
                "From when on the centre stays within 0.5 °C of the bath's own temperature, to `until_min`.",
            ),
            true,
        ),
        ("pasteurized_min", maybe_number("Every organism's target reached."), true),
        ("code_min", maybe_number("The profile's time table met."), true),
        ("kill", json!({"type": "array", "items": kill}), true),
        (
            "danger_zone_min",
            json!({"type": "number", "description": "Minutes of the worst layer from 5 °C to the growth limit, before the bath and after it too."}),
            true,
        ),
        (
            "warm_growth_min",
            json!({"type": "number", "description": "Minutes of the worst layer between 30 and 50 °C."}),
            true,
        ),
        (
            "after_kill_min",
            json!({"type": "number", "description": "Minutes of the worst layer under the growth limit since the kill."}),
            true,
        ),
        ("texture", texture, true),
        ("verdict", verdict(), true),
        ("curve", curve(), true),
    ])
}

fn verdict() -> Value {
    let mut way_out = object(vec![
        ("text", json!({"type": "string"}), true),
        ("until_min", maybe_number("Leave it in this bath until."), true),
        ("bath_c", maybe_number("The coldest bath that pasteurises by then."), true),
        ("thickness_mm", maybe_number("The thickest piece pasteurised by then."), true),
        ("no_later_than_min", maybe_number("Take it out no later than, to serve it undercooked."), true),
    ]);
    way_out["type"] = json!(["object", "null"]);
    object(vec![
        ("level", words(&["pasteurized", "exempt", "serve-now", "refused"], "How it may be served."), true),
        (
            "row",
            json!({"type": ["integer", "string"], "description": "Row of the verdict table: its number, or `8a`."}),
            true,
        ),
        ("reasons", reasons(), true),
        ("way_out", way_out, true),
    ])
}

fn chill_answer() -> Value {
    object(vec![
        ("method", json!({"type": "string"}), true),
        ("around_c", json!({"type": "number"}), true),
        ("surface_w_m2k", json!({"type": "number"}), true),
        ("to_21_min", maybe_number("Centre down to 21 °C."), true),
        ("to_5_min", maybe_number("Centre down to 5 °C."), true),
        ("in_time", flag("Both stages keep their times."), true),
        ("ice_kg", maybe_number("Ice that melts."), true),
        ("reasons", reasons(), true),
        ("curve", curve(), true),
    ])
}

fn problem() -> Value {
    let field = object(vec![
        ("field", json!({"type": "string"}), true),
        ("message", json!({"type": "string"}), true),
    ]);
    object(vec![
        ("type", json!({"type": "string"}), true),
        ("title", json!({"type": "string"}), true),
        ("status", json!({"type": "integer"}), true),
        ("fields", json!({"type": "array", "items": field}), true),
    ])
}

fn path(kind: &str, summary: &str) -> Value {
    let content = |media: &str, schema: &str| {
        let schema = json!({"$ref": format!("#/components/schemas/{schema}")});
        json!({ media: {"schema": schema} })
    };
    let refusal =
        |why: &str| json!({"description": why, "content": content("application/problem+json", "Problem")});
    json!({"post": {
        "operationId": kind,
        "summary": summary,
        "requestBody": {"required": true, "content": content("application/json", &format!("{kind}Request"))},
        "responses": {
            "200": {"description": "The answer.", "content": content("application/json", &format!("{kind}Answer"))},
            "408": refusal("The request did not arrive within 10 seconds."),
            "413": refusal("The request is larger than 1 MB."),
            "415": refusal("The request is not application/json."),
            "422": refusal(&format!("Some fields cannot be taken; each is named with what is allowed. Or the answer takes more than {MOST_EFFORT} cells times steps of computing: ask for a shorter time, a thinner piece, or a bath of fewer points.")),
            "503": refusal("Others are being computed for; try again after the seconds of Retry-After."),
        }
    }})
}

/// The description, as JSON.
///
/// ```
/// let api = hold_steady_core::calc::openapi();
/// assert_eq!(api["openapi"], "3.1.0");
/// assert!(api["paths"]["/api/v1/calc/heat"]["post"].is_object());
/// ```
#[must_use]
pub fn openapi() -> Value {
    json!({
        "openapi": "3.1.0",
        "info": {
            "title": "Hold Steady, calculation interface",
            "version": env!("CARGO_PKG_VERSION"),
            "license": {"name": "MIT", "identifier": "MIT"},
            "description": "Estimates, on the safe side where it is about safety. They do not replace your local food code or licensed practice. SI units and °C; the unit is in every field's name.",
        },
        "paths": {
            "/api/v1/calc/heat": path("heat", "One piece in one bath, judged at until_min."),
            "/api/v1/calc/chill": path("chill", "One cooked piece on its way down, judged by the two-stage rule."),
            "/api/v1/calc/mix": path("mix", "What brings a bath to a temperature."),
            "/api/v1/calc/warmup": path("warmup", "How long a heater takes."),
            "/api/v1/calc/load": path("load", "How a bath takes cold food."),
            "/api/v1/calc/sear": path("sear", "What a sear does to a piece."),
            "/api/v1/calc/evaporation": path("evaporation", "What leaves a surface of water."),
            "/api/v1/readings": readings(),
        },
        "components": {"schemas": {
            "heatRequest": heat_request(),
            "heatAnswer": heat_answer(),
            "chillRequest": chill_request(),
            "chillAnswer": chill_answer(),
            "mixRequest": mix_request(),
            "mixAnswer": mix_answer(),
            "warmupRequest": warmup_request(),
            "warmupAnswer": warmup_answer(),
            "loadRequest": load_request(),
            "loadAnswer": load_answer(),
            "searRequest": sear_request(),
            "searAnswer": sear_answer(),
            "evaporationRequest": evaporation_request(),
            "evaporationAnswer": evaporation_answer(),
            "Problem": problem(),
        }},
    })
}

/// What devices report.
fn readings() -> Value {
    let reading = json!({ "type": "object", "properties": {
        "at": { "type": "string", "format": "date-time", "description": "When it was read; now, where it is left out." },
        "celsius": { "type": "number", "minimum": -30, "maximum": 110 },
        "fahrenheit": { "type": "number", "description": "In place of celsius." },
    }, "additionalProperties": false });
    json!({ "post": {
        "summary": "Readings of a device's bath, with its token (Authorization: Bearer …); idempotent by device and second.",
        "requestBody": { "required": true, "content": {
            "application/json": { "schema": { "type": "object", "required": ["readings"], "properties": {
                "readings": { "type": "array", "maxItems": 50000, "items": reading },
                "set_celsius": { "type": "number", "minimum": 0, "maximum": 100 },
            }, "additionalProperties": false } },
            "text/csv": { "schema": { "type": "string" } },
        } },
        "responses": {
            "200": { "description": "On the disk: taken, known already, and not taken with the reason of each." },
            "401": { "description": "No token, or none that counts." },
            "422": { "description": "Not to be read as readings." },
        },
    } })
}
