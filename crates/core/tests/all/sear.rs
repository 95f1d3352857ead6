//! The sear against computations apart from this one, against an analytic front, and against itself.

use hold_steady_core::bath::boiling_c;
use hold_steady_core::food::catalogue;
use hold_steady_core::sear::{
    Act, After, Aim, Body, Faces, Flesh, Grid, Hearth, Heat, Pattern, Pause, Sear, Seared, Setup, Start,
    Wanted, Way, cooked, proposals, too_much,
};
use hold_steady_core::units::{Celsius, Length};
use proptest::prelude::*;

const CONTACT: f64 = 275.0;
const RESTED_S: f64 = 1500.0;

fn steak(mm: f64, start_c: f64, surface_c: f64, turns_s: &[f64]) -> Sear {
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    let start = Start::Uniform(Celsius::new(start_c));
    Sear::pan(strip, Length::from_mm(mm), start, (surface_c, CONTACT), turns_s, RESTED_S)
}

fn cooled(mut sear: Sear, act: Act) -> Sear {
    sear.acts.insert(0, act);
    sear
}

fn run(sear: &Sear) -> Seared {
    sear.run().expect("simulates")
}

fn air(min: f64) -> Act {
    Act::Air { s: min * 60.0, exposed: 2 }
}

/// What two computations with the same equations, apart from this one, give: the ranges span both. (Trade equations;
/// wetness and film are uncertain.) Thickness, start, surface, seconds a face; peak; minutes after the last turn.
#[test]
fn peaks_lie_where_two_other_computations_put_them() {
    let cases = [
        ((25.0, 54.0, 230.0, 60.0), (59.0, 63.5), (2.25, 4.25)),
        ((25.0, 54.0, 230.0, 45.0), (58.0, 62.0), (2.0, 4.5)),
        ((38.0, 54.0, 177.0, 60.0), (55.5, 58.5), (4.5, 8.5)),
        ((38.0, 54.0, 260.0, 30.0), (54.8, 57.0), (4.0, 9.0)),
        ((50.0, 46.0, 425.0, 60.0), (47.5, 50.5), (9.0, 15.0)),
    ];
    for ((mm, start, surface, s), peak, after) in cases {
        let out = run(&steak(mm, start, surface, &[s, s]));
        let min = out.peak_after_s.expect("it warms") / 60.0;
        assert!((peak.0..=peak.1).contains(&out.peak_c), "{mm} mm, {surface} °C: peaks at {}", out.peak_c);
        assert!((after.0..=after.1).contains(&min), "{mm} mm, {surface} °C: after {min} min");
        assert!(!out.still_rising);
    }
}

#[test]
fn band_and_crust_lie_where_two_other_computations_put_them() {
    for (s, band) in [(30.0, (2.8, 3.4)), (45.0, (3.4, 4.2)), (60.0, (3.8, 4.8))] {
        let got = run(&steak(25.0, 54.0, 230.0, &[s, s])).band_mm(70.0);
        assert!(got.iter().all(|mm| (band.0..=band.1).contains(mm)), "{s} s: {got:?}");
    }
    for (surface, crust) in
        [(177.0, (0.2, 1.0)), (230.0, (0.2, 1.0)), (260.0, (0.2, 1.0)), (425.0, (0.8, 1.6))]
    {
        let faces = run(&steak(38.0, 54.0, surface, &[60.0, 60.0])).faces;
        let mean = f64::midpoint(faces[0].crust_mm, faces[1].crust_mm);
        assert!((crust.0..=crust.1).contains(&mean), "{surface} °C: {mean} mm");
    }
}

#[test]
fn cooling_first_lowers_the_peak_as_two_other_computations_say() {
    for (mm, less) in [(25.0, (3.0, 10.0)), (38.0, (2.0, 7.0))] {
        let plain = steak(mm, 54.0, 230.0, &[60.0, 60.0]);
        let got = run(&plain).peak_c - run(&cooled(plain.clone(), air(10.0))).peak_c;
        assert!((less.0..=less.1).contains(&got), "{mm} mm: {got} K");
    }
    let plain = steak(25.0, 54.0, 230.0, &[60.0, 60.0]);
    // The two computations have 37 to 45 °C, with a film that a dried face halves and without the vapour's own flow; with both
    // as they are here, and as the peak after ten minutes asks (below), it is 35.
    let hung = run(&cooled(plain.clone(), air(25.0)));
    assert!((34.0..=45.0).contains(&hung.before_c), "{}", hung.before_c);
    for (s, less) in [(120.0, 5.0), (300.0, 11.0)] {
        let got = run(&plain).peak_c - run(&cooled(plain.clone(), Act::Ice { s })).peak_c;
        assert!((got - less).abs() < 1.0, "{s} s in ice water: {got} K");
    }
}

/// Worked out apart with the same equations, vapour's own flow among them: ten minutes in air, then a minute a face.
#[test]
fn after_ten_minutes_in_air_it_peaks_where_another_computation_puts_it() {
    let out = run(&cooled(steak(25.0, 54.0, 230.0, &[60.0, 60.0]), air(10.0)));
    assert!((out.peak_c - 53.1).abs() < 0.4, "{}", out.peak_c);
}

/// A second longer on the heat moves a face by what a second does: no layer dries at once.
#[test]
fn nothing_jumps_as_the_dry_front_moves_on() {
    let hottest = |s: f64| run(&steak(25.0, 54.0, 230.0, &[s, s])).faces[0].peak_c;
    let each: Vec<f64> = (15..70).map(|s| hottest(f64::from(s))).collect();
    for three in each.windows(3) {
        let (before, after) = (three[1] - three[0], three[2] - three[1]);
        assert!((0.0..2.0).contains(&after) && (after - before).abs() < 1.3, "{three:?}");
    }
}

/// What only cools has no moment at which it is warmest; what warms is never warmest before it comes off.
#[test]
fn a_peak_is_after_the_heat_or_there_is_none() {
    let thick = run(&cooled(steak(60.0, 55.0, 150.0, &[10.0, 10.0]), Act::Air { s: 60.0, exposed: 2 }));
    assert!(thick.peak_after_s.is_none_or(|s| s >= 0.0));
    let cools = run(&steak(5.0, 60.0, 60.0, &[1.0, 1.0]));
    assert_eq!(cools.peak_after_s, None);
    assert!(cools.only_cools());
}

/// From 230 °C with a burner of 13 kW/m², after 60 s under cold meat, worked out apart: 2.5 mm of steel is at 188 °C,
/// 5 mm of cast iron at 200, 10 mm of plate at 214. With meat from the refrigerator thin steel falls further here.
#[test]
fn a_pan_falls_by_its_own_mass() {
    let at = |id: &str, start_c: f64| {
        let mut sear = steak(25.0, start_c, 230.0, &[60.0]);
        sear.acts.truncate(1);
        sear.hearths = vec![Hearth::named(id).expect("shipped").hot(None)];
        run(&sear).hearths_c()[0].expect("a pan has a temperature")
    };
    for (id, apart, within) in
        [("thin-pan", 188.0, 22.0), ("iron-pan", 200.0, 10.0), ("thick-plate", 214.0, 5.5)]
    {
        let (cold, warm) = (at(id, 5.0), at(id, 54.0));
        assert!(
            cold < warm && (cold - apart).abs() < within && (warm - apart).abs() < within,
            "{id}: {cold} to {warm}"
        );
    }
}

/// A semi-infinite body at the boiling point throughout, its face held hotter: all heat that comes through the dry crust
/// dries more of it. Stefan's problem of one phase: the crust is 2 λ √(α t), λ exp(λ²) erf λ = Ste/√π.
#[test]
fn the_dry_front_runs_as_stefans() {
    let flesh = Flesh {
        water_kg_m3: 750.0,
        solids_j_m3k: 0.6e6,
        wet_w_mk: 0.5,
        melting_j_m3: 0.0,
        melts_c: (0.0, 1.0),
    };
    let (conducts, latent, boils, face_c) = (0.15, 2.257e6, boiling_c(0.0), 260.0);
    let stefan = flesh.solids_j_m3k * (face_c - boils) / (latent * flesh.water_kg_m3);
    let erf = |x: f64| {
        let n = 2000;
        let h = x / f64::from(n);
        let f = |t: f64| (-t * t).exp();
        let simpson: f64 = (0..n)
            .map(|i| f64::from(i) * h)
            .map(|t| h / 6.0 * (f(t) + 4.0 * f(t + h / 2.0) + f(t + h)))
            .sum();
        2.0 / std::f64::consts::PI.sqrt() * simpson
    };
    let (mut low, mut high) = (0.0_f64, 2.0);
    for _ in 0..60 {
        let l = f64::midpoint(low, high);
        if l * (l * l).exp() * erf(l) < stefan / std::f64::consts::PI.sqrt() { low = l } else { high = l }
    }
    let mut sear = steak(40.0, boils, face_c, &[120.0]);
    sear.flesh = flesh;
    sear.acts.truncate(1);
    sear.hearths = vec![Heat::Contact { w_m2k: 1e5, body: Body::held(face_c) }];
    for (grid, within) in
        [(Grid::default(), 0.05), (Grid { first_mm: 0.02, growth: 1.03, step_s: 0.05 }, 0.02)]
    {
        sear.grid = grid;
        let analytic_mm = 2.0 * low * (conducts / flesh.solids_j_m3k * 120.0).sqrt() * 1000.0;
        let got = run(&sear).faces[0].crust_mm;

        assert!((got / analytic_mm - 1.0).abs() < within, "{got} mm, {analytic_mm} by Stefan's");
    }
}

#[test]
fn a_finer_grid_and_shorter_steps_change_nothing_that_is_shown() {
    let finer = Grid { first_mm: 0.02, growth: 1.05, step_s: 0.05 };
    for (mm, start, surface, s) in [
        (13.0, 54.0, 230.0, 30.0),
        (25.0, 54.0, 230.0, 60.0),
        (50.0, 46.0, 425.0, 60.0),
        (25.0, 5.0, 177.0, 240.0),
    ] {
        let usual = steak(mm, start, surface, &[s, s]);
        let (a, b) = (run(&usual), run(&Sear { grid: finer, ..usual }));
        assert!((a.peak_c - b.peak_c).abs() < 0.2, "{mm} mm: {} and {}", a.peak_c, b.peak_c);
        let (x, y) = (a.thicker_band_mm(70.0), b.thicker_band_mm(70.0));
        assert!((x - y).abs() < 0.1, "{mm} mm: {x} and {y}");
        assert!((a.faces[0].crust_mm - b.faces[0].crust_mm).abs() < 0.05);
        assert!((a.water_lost_kg_m2 / b.water_lost_kg_m2 - 1.0).abs() < 0.03);
    }
}

/// Order, not figures: common practice. At the same core a minute a face after the bath leaves a thinner band than the
/// pan from raw; the contact coefficient hardly moves the peak but makes the crust.
#[test]
fn what_cooks_say_of_it_is_so_in_order() {
    for (mm, start, until) in [(38.0, 50.0, 42.0), (50.0, 52.0, 42.0)] {
        let bath = run(&steak(mm, start, 177.0, &[60.0, 60.0]));
        let mut raw = steak(mm, 5.0, 177.0, &[]);
        raw.acts.insert(0, Act::HeatUntil { hearth: 0, centre_c: until, turn_s: Some(30.0), most_s: 3600.0 });
        let raw = run(&raw);
        assert!((raw.peak_c - bath.peak_c).abs() < 1.0, "{mm} mm: {} {}", raw.peak_c, bath.peak_c);
        // (1.3 and 1.7 times: a face that is off the heat between turns gives off what it just took up.)
        assert!(raw.thicker_band_mm(70.0) > 1.25 * bath.thicker_band_mm(70.0), "{mm} mm");
    }
    let weak = |w_m2k: f64| {
        let mut sear = steak(25.0, 54.0, 230.0, &[60.0, 60.0]);
        sear.hearths = vec![Heat::Contact { w_m2k, body: Body::held(230.0) }];
        run(&sear)
    };
    let (weak, strong) = (weak(100.0), weak(400.0));
    assert!(strong.peak_c - weak.peak_c < 2.5, "{} {}", weak.peak_c, strong.peak_c);
    assert!(strong.faces[1].crust_mm > 2.0 * weak.faces[1].crust_mm);
    // A gentle oven from raw, and a hot one, to the same core.
    let oven = |c: f64| {
        let mut sear = steak(38.0, 5.0, 177.0, &[]);
        sear.hearths = vec![Heat::Air { ramp: vec![(0.0, c)], w_m2k: 20.0, dew_c: 35.0 }];
        sear.acts.insert(0, Act::HeatUntil { hearth: 0, centre_c: 52.0, turn_s: None, most_s: 4.0 * 3600.0 });
        run(&sear)
    };
    let (gentle, hot) = (oven(120.0), oven(250.0));
    assert!(
        hot.band_mm(60.0)[0] > gentle.band_mm(60.0)[0] + 2.0,
        "{:?} {:?}",
        hot.band_mm(60.0),
        gentle.band_mm(60.0)
    );
    assert!(gentle.off_s > hot.off_s);
    // A torch held still would scorch; sweeping it leaves the least band.
    let torch = |duty: f64, s: f64| {
        let mut sear = steak(25.0, 54.0, 230.0, &[s, s]);
        sear.hearths = vec![Heat::Flux { w_m2: 100_000.0 * duty }];
        run(&sear)
    };
    assert!(torch(1.0, 30.0).faces[0].char_s > 10.0);
    // Below about 260 °C a face dried in the oven browns sooner than a patted one.
    let wet = Sear { dried: false, ..steak(25.0, 54.0, 230.0, &[45.0, 45.0]) };
    assert!(run(&wet).faces[0].browning < run(&steak(25.0, 54.0, 230.0, &[45.0, 45.0])).faces[0].browning);
}

/// Order, not figures: common practice again, by hearth.
#[test]
fn hearths_differ_as_cooks_say() {
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    let setup = |id: &str| {
        Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), Hearth::named(id).expect("shipped"))
    };
    let wanted =
        Wanted { centre_c: 54.0, browning: 0.03, face_c: 240.0, within_s: None, after: After::resting(60.0) };
    let of = |id: &str| proposals(&setup(id), &wanted).expect("simulates");
    let (pan, oil, torch) = (of("iron-pan"), of("deep-oil"), of("torch"));
    // Oil sears faster than a pan; a torch leaves less of a band than either.
    assert!(oil[0].pattern.face_s < pan[0].pattern.face_s);
    assert!(torch[0].band_mm < pan[0].band_mm && torch[0].band_mm < oil[0].band_mm);
    // Hung for twenty minutes, it can be seared for longer before the inside suffers.
    let hung = pan.iter().find(|p| p.aim == Aim::Relaxed).expect("proposed");
    assert!(hung.pattern.face_s > pan[0].pattern.face_s && hung.off_k < 1.0);
    // From raw, a hotter pan hardly changes the band by the time the core is done, and browns far more.
    let raw = |c: f64| {
        let mut sear = steak(38.0, 5.0, c, &[]);
        sear.acts.insert(0, Act::HeatUntil { hearth: 0, centre_c: 42.0, turn_s: Some(30.0), most_s: 3600.0 });
        run(&sear)
    };
    let (mild, hot) = (raw(163.0), raw(260.0));
    let (a, b) = (mild.thicker_band_mm(70.0), hot.thicker_band_mm(70.0));
    assert!((b / a - 1.0).abs() < 0.45, "{a} {b}");
    assert!(hot.paler().browning > 20.0 * mild.paler().browning);
    assert!(hot.faces[0].peak_c > mild.faces[0].peak_c + 40.0);
}

#[test]
fn water_boils_sooner_in_the_mountains_and_nothing_condenses_back() {
    let mut sear = steak(25.0, 54.0, 230.0, &[60.0, 60.0]);
    let low = run(&sear);
    sear.air.altitude_m = 3000.0;
    let high = run(&sear);
    assert!(high.faces[0].crust_mm > low.faces[0].crust_mm);
    sear.acts.push(Act::Refrigerator { s: 1800.0 });
    let after = run(&sear);
    assert!(after.water_lost_kg_m2 >= high.water_lost_kg_m2 - 1e-9);
}

fn finite(out: &Seared) -> bool {
    out.layers.iter().all(|l| l.end_c.is_finite() && l.max_c.is_finite() && l.max_c > -50.0)
        && out.peak_c.is_finite()
        && (0.0..=1.0).contains(&out.water_lost)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Longer on the heat: a thicker band, a warmer middle, more water lost, more crust.
    #[test]
    fn longer_is_more(mm in 12.0..60.0_f64, c in 150.0..430.0_f64, s in 10.0..90.0_f64, start in 45.0..60.0_f64) {
        let (a, b) = (run(&steak(mm, start, c, &[s, s])), run(&steak(mm, start, c, &[s * 1.4, s * 1.4])));
        prop_assert!(b.thicker_band_mm(70.0) >= a.thicker_band_mm(70.0) - 0.02);
        prop_assert!(b.peak_c >= a.peak_c - 0.02);
        prop_assert!(b.water_lost_kg_m2 >= a.water_lost_kg_m2);
        prop_assert!(b.faces[1].crust_mm >= a.faces[1].crust_mm);
    }

    /// The band follows the time more than the temperature: half as long again does more to it than 50 °C more.
    #[test]
    fn time_makes_the_band_more_than_heat(mm in 25.0..50.0_f64, c in 180.0..350.0_f64, s in 30.0..60.0_f64) {
        let band = |c: f64, s: f64| run(&steak(mm, 54.0, c, &[s, s])).thicker_band_mm(70.0);
        let plain = band(c, s);
        prop_assert!(band(c, s * 1.5) - plain > band(c + 50.0, s) - plain);
    }

    /// A pause first lowers the peak and thins the band, and longer more.
    #[test]
    fn a_pause_lowers_the_peak(mm in 15.0..50.0_f64, min in 2.0..15.0_f64) {
        let plain = steak(mm, 55.0, 230.0, &[45.0, 45.0]);
        let (none, some, more) = (run(&plain), run(&cooled(plain.clone(), air(min))), run(&cooled(plain.clone(), air(min * 1.5))));
        prop_assert!(none.peak_c > some.peak_c && some.peak_c > more.peak_c);
        prop_assert!(none.thicker_band_mm(60.0) >= some.thicker_band_mm(60.0));
    }

    /// From raw, a hot oven leaves a thicker band than a low one at the same core, and takes less time.
    #[test]
    fn a_hot_oven_leaves_a_thicker_band(mm in 25.0..55.0_f64, low in 90.0..130.0_f64, core in 48.0..60.0_f64) {
        let oven = |c: f64| {
            let mut sear = steak(mm, 5.0, 177.0, &[]);
            sear.hearths = vec![Heat::Air { ramp: vec![(0.0, c)], w_m2k: 20.0, dew_c: 35.0 }];
            sear.acts.insert(0, Act::HeatUntil { hearth: 0, centre_c: core, turn_s: None, most_s: 6.0 * 3600.0 });
            run(&sear)
        };
        let (gentle, hot) = (oven(low), oven(low + 110.0));
        prop_assert!(hot.thicker_band_mm(core + 6.0) > gentle.thicker_band_mm(core + 6.0));
        prop_assert!(gentle.off_s > hot.off_s);
    }

    /// Heat that went in is in it or went with its water, to rounding; water that is gone was lost through a face.
    #[test]
    fn heat_and_water_balance(
        mm in 3.0..120.0_f64, start in 0.0..80.0_f64, c in 60.0..600.0_f64, s in 1.0..300.0_f64,
        w_m2k in 1.0..2000.0_f64, altitude in 0.0..5000.0_f64, kind in 0..5_usize,
    ) {
        let mut sear = steak(mm, start, c, &[s, s]);
        sear.air.altitude_m = altitude;
        sear.hearths = vec![[
            Heat::Contact { w_m2k, body: Body::held(c) },
            Heat::Contact { w_m2k, body: Body::lump(c, 9400.0, 13_000.0) },
            Heat::Oil { w_m2k: 1000.0, after_w_m2k: 250.0, body: Body::lump(c.min(204.0), 80_000.0, 13_000.0) },
            Heat::Flux { w_m2: 100.0 * c },
            Heat::Air { ramp: vec![(0.0, c), (600.0, c + 50.0)], w_m2k: 20.0, dew_c: 30.0 },
        ][kind].clone()];
        if kind == 2 {
            sear.acts[0] = Act::Heat { hearth: 0, s, faces: Faces::Both };
        }
        let out = run(&sear);
        prop_assert!(finite(&out));
        prop_assert!(out.unaccounted.abs() < 1e-6, "{}", out.unaccounted);
        let lost = out.faces[0].lost_kg_m2 + out.faces[1].lost_kg_m2;
        prop_assert!((lost - out.water_lost_kg_m2).abs() < 1e-9, "{lost} {}", out.water_lost_kg_m2);
        // Nothing is hotter than what heats it.
        let hottest = out.layers.iter().map(|l| l.max_c).fold(0.0, f64::max);
        prop_assert!(kind == 3 || hottest <= c.max(start) + 50.0 * f64::from(u8::from(kind == 4)) + 0.5, "{hottest}");
    }

    /// Whatever is proposed keeps what was asked of it, or says in which it does not.
    #[test]
    fn a_proposal_keeps_what_is_asked_or_says_so(
        mm in 15.0..60.0_f64, c in 50.0..66.0_f64, hearth in 0..8_usize, within in prop::option::of(300.0..2400.0_f64),
    ) {
        let strip = catalogue().food("beef-strip").expect("in the catalogue");
        let hearth = &hold_steady_core::sear::hearths()[hearth];
        let setup = Setup::new(strip, Length::from_mm(mm), Celsius::new(c), hearth);
        let wanted = Wanted { centre_c: c, browning: 0.008, face_c: 240.0, within_s: within, after: After::resting(60.0) };
        let all = proposals(&setup, &wanted).expect("simulates");
        prop_assert!(!all.is_empty() && all[0].aim == Aim::Best);
        for p in &all {
            let again = setup.finish(&p.pattern).expect("simulates");
            prop_assert!((again.peak_c - c - p.off_k).abs() < 1e-9);
            prop_assert_eq!(p.lands(), p.off_k.abs() <= 0.5);
            prop_assert_eq!(p.brown, again.paler().browning >= wanted.browning);
            prop_assert!(p.pattern.pause != Pause::Ice || p.pattern.pause_s <= 120.0);
            let shortest = Pattern { pause_s: 0.0, ..p.pattern }.all_s(hearth.heats);
            prop_assert!(within.is_none_or(|s| p.all_s <= s.max(shortest) + 1e-6), "{} s of {within:?}", p.all_s);
        }
    }
}

#[test]
fn what_is_too_much_is_too_much() {
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    let fire = Hearth::named("hot-plate").expect("shipped");
    let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), fire);
    let wanted =
        Wanted { centre_c: 55.0, browning: 0.1, face_c: 240.0, within_s: None, after: After::resting(60.0) };
    let pattern =
        Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 30.0, times: 1, after: After::resting(60.0) };
    let much = too_much(&setup, &wanted, &pattern).expect("simulates");
    let at = |face_s: f64| setup.finish(&Pattern { face_s, ..pattern }).expect("simulates");
    let (longest, chars) = (much.face_s.expect("there is one"), much.char_s.expect("there is one"));
    assert!(
        at(longest).peak_c <= 56.05 && at(longest + 8.0).peak_c > 55.95,
        "{} {} {longest}",
        at(longest).peak_c,
        at(longest + 8.0).peak_c
    );
    let hottest = |s: f64| at(s).faces.iter().map(|f| f.peak_c).fold(0.0, f64::max);
    assert!(hottest(chars) <= 240.5 && hottest(chars + 8.0) > 239.5);
}

/// Every way is brought to the same middle; the gentler it is, the thinner its band (common practice, by order).
#[test]
fn other_ways_end_at_the_same_middle() {
    let strip = catalogue().food("beef-strip").expect("in the catalogue");
    let pan = Hearth::named("iron-pan").expect("shipped");
    let setup = Setup::new(strip, Length::from_mm(38.0), Celsius::new(54.0), pan);
    let pattern =
        Pattern { pause: Pause::Air, pause_s: 300.0, face_s: 45.0, times: 1, after: After::resting(60.0) };
    let by = |way| cooked(&setup, way, &pattern, Celsius::new(5.0), 54.0).expect("simulates");
    let all: Vec<_> = Way::ALL.into_iter().map(by).collect();
    for c in &all {
        assert!(c.off_k.abs() < 1.0, "{:?} ends {} K off", c.way, c.off_k);
    }
    let band = |way| all.iter().find(|c| c.way == way).expect("all").band_mm;
    assert!(band(Way::BathThenSear) < band(Way::OvenThenSear));
    assert!(band(Way::OvenThenSear) < band(Way::PanTurnedOften));
    assert!(band(Way::PanTurnedOften) < band(Way::PanTurnedOnce));
}
