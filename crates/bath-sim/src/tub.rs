//! A vessel of water with a heater, food and a probe in it.

use std::str::FromStr;

use hold_steady_core::bath::{Cover, Pool, shapes};
use hold_steady_core::book::usual_air;
use rand_pcg::Pcg64Mcg;
use rand_pcg::rand_core::{RngCore, SeedableRng};

/// What goes wrong, on command.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Fault {
    /// No heat, or heat again.
    Power(bool),
    /// The lid is on, or off.
    Lid(bool),
    /// So many litres are in it from now on.
    Water(f64),
    /// The sensor shows this and nothing else; or what it reads again.
    Stuck(Option<f64>),
    /// Nothing is reported; readings are lost. Or it reports again.
    Silent(bool),
    /// The device's clock is so many seconds ahead.
    Clock(f64),
    /// So much cold food goes in: kg, °C.
    Food(f64, f64),
    /// It is set to this.
    Set(f64),
    /// The probe hangs out of the water, or in it again.
    Out(bool),
}

impl FromStr for Fault {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        const ALL: &str = "power on|off, lid on|off, water LITRES, stuck CELSIUS|off, silent on|off, clock SECONDS, food KG CELSIUS, set CELSIUS, out on|off";
        let mut words = text.split_whitespace();
        let (what, first, second) = (words.next().unwrap_or_default(), words.next(), words.next());
        let switch = || match first {
            Some("on") => Ok(true),
            Some("off") => Ok(false),
            _ => Err(format!("“{text}”: say on or off. There are: {ALL}.")),
        };
        let number = |word: Option<&str>| {
            let found = word.and_then(|w| w.parse::<f64>().ok()).filter(|n| n.is_finite());
            found.ok_or_else(|| format!("“{text}”: a number is missing. There are: {ALL}."))
        };
        Ok(match what {
            "power" => Self::Power(switch()?),
            "lid" => Self::Lid(switch()?),
            "water" => Self::Water(number(first)?.max(0.5)),
            "stuck" if first == Some("off") => Self::Stuck(None),
            "stuck" => Self::Stuck(Some(number(first)?)),
            "silent" => Self::Silent(switch()?),
            "clock" => Self::Clock(number(first)?),
            "food" => Self::Food(number(first)?.max(0.0), number(second)?),
            "set" => Self::Set(number(first)?),
            "out" => Self::Out(switch()?),
            _ => return Err(format!("“{text}” is no fault. There are: {ALL}.")),
        })
    }
}

/// Its probe follows the water with this time constant, s; its noise and the steps it shows, K.
const PROBE_LAG_S: f64 = 8.0;
const PROBE_NOISE_K: f64 = 0.04;
const PROBE_STEP_K: f64 = 0.1;

/// Food in it: as one lump that takes heat with one time constant.
#[derive(Debug, Clone, Copy)]
struct Lump {
    j_k: f64,
    tau_s: f64,
    c: f64,
}

/// A vessel of water with a heater, food and a probe in it.
#[derive(Debug, Clone)]
pub struct Tub {
    pool: Pool,
    covered: Cover,
    power: bool,
    /// What its heater is set to, °C.
    pub set_c: f64,
    /// What the water is, °C.
    pub water_c: f64,
    lumps: Vec<Lump>,
    probe_c: f64,
    stuck: Option<f64>,
    out: bool,
    /// Whether it reports at all.
    pub silent: bool,
    /// Its clock is so many seconds ahead.
    pub clock_s: f64,
    noise: Pcg64Mcg,
}

/// Heat that food takes, J/kgK, and how long a bag takes to take most of it, s: a stand-in, not a plan.
const FOOD_J_KGK: f64 = 3500.0;
const FOOD_TAU_S: f64 = 1200.0;
/// Full power below the setting by this, then less and less, K.
const BAND_K: f64 = 0.4;

impl Tub {
    /// A shipped shape, filled to its highest line, at its setting; `seed` is that of its noise.
    #[must_use]
    pub fn new(shape: &str, set_c: f64, seed: u64) -> Option<Self> {
        let (_, vessel) = shapes().iter().find(|(id, _)| id == shape)?;
        let pool = vessel.pool(vessel.litres(vessel.max_mm), vessel.cover, usual_air(0.0));
        Some(Self {
            pool,
            covered: vessel.cover,
            power: true,
            set_c,
            water_c: set_c,
            lumps: Vec::new(),
            probe_c: set_c,
            stuck: None,
            out: false,
            silent: false,
            clock_s: 0.0,
            noise: Pcg64Mcg::seed_from_u64(seed),
        })
    }

    /// The same, its water at `c` now.
    #[must_use]
    pub fn at(self, c: f64) -> Self {
        Self { water_c: c, probe_c: c, ..self }
    }

    /// Something goes wrong, or is done.
    pub fn fault(&mut self, fault: Fault) {
        match fault {
            Fault::Power(on) => self.power = on,
            Fault::Lid(on) => self.pool.cover = if on { self.covered } else { Cover::None },
            Fault::Water(litres) => self.pool.litres = litres,
            Fault::Stuck(c) => self.stuck = c,
            Fault::Silent(silent) => self.silent = silent,
            Fault::Clock(s) => self.clock_s = s,
            Fault::Set(c) => self.set_c = c,
            Fault::Out(out) => self.out = out,
            Fault::Food(kg, c) => self.lumps.push(Lump { j_k: kg * FOOD_J_KGK, tau_s: FOOD_TAU_S, c }),
        }
    }

    /// Lets so many seconds pass in it.
    pub fn pass(&mut self, seconds: f64) {
        const STEP_S: f64 = 2.0;
        let mut left = seconds.clamp(0.0, 7.0 * 86_400.0);
        while left > 0.0 {
            let dt = left.min(STEP_S);
            self.step(dt);
            left -= dt;
        }
    }

    fn step(&mut self, dt: f64) {
        let short = ((self.set_c - self.water_c) / BAND_K + 0.5).clamp(0.0, 1.0);
        let heat_w = if self.power { self.pool.heater_w * short } else { 0.0 };
        let mut taken_w = 0.0;
        for lump in &mut self.lumps {
            let flow = lump.j_k * (self.water_c - lump.c) / lump.tau_s;
            lump.c += flow / lump.j_k * dt;
            taken_w += flow;
        }
        self.water_c += (heat_w - self.pool.loss_w(self.water_c) - taken_w) / self.pool.j_k() * dt;
        self.pool.litres = (self.pool.litres - self.pool.kg_per_h(self.water_c) / 3600.0 * dt).max(0.5);
        let around = if self.out { self.pool.air.room_c } else { self.water_c };
        self.probe_c += (around - self.probe_c) * (1.0 - (-dt / PROBE_LAG_S).exp());
    }

    /// What its probe shows now.
    pub fn read(&mut self) -> f64 {
        if let Some(c) = self.stuck {
            return c;
        }
        // The sum of four even ones is near enough to a bell.
        let even = |n: &mut Pcg64Mcg| f64::from(n.next_u32()) / f64::from(u32::MAX) - 0.5;
        let bell: f64 = (0..4).map(|_| even(&mut self.noise)).sum::<f64>() * 3.0_f64.sqrt();
        let shown = self.probe_c + bell * PROBE_NOISE_K;
        (shown / PROBE_STEP_K).round() * PROBE_STEP_K
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn tub() -> Tub {
        Tub::new("box-12", 56.0, 1).expect("shipped")
    }

    #[test]
    fn it_warms_holds_takes_food_and_comes_back() {
        let mut cold = tub().at(40.0);
        cold.pass(60.0);
        assert!(cold.water_c < 45.0);
        cold.pass(3600.0);
        assert!((cold.water_c - 56.0).abs() < 0.3, "{}", cold.water_c);
        cold.fault(Fault::Food(6.0, 4.0));
        cold.pass(240.0);
        let low = cold.water_c;
        cold.pass(3600.0);
        assert!(low < 55.9 && cold.water_c > low && (cold.water_c - 56.0).abs() < 0.3, "{low}");
    }

    /// Newton's law by hand: with no heat it falls as its loss over its heat, at first.
    #[test]
    fn without_power_it_falls_as_its_loss_says_and_faster_without_a_lid() {
        let mut off = tub();
        off.fault(Fault::Power(false));
        let rate = off.pool.loss_w(56.0) / off.pool.j_k();
        off.pass(600.0);
        let fell = 56.0 - off.water_c;
        assert!((fell / (rate * 600.0) - 1.0).abs() < 0.05, "{fell}");
        let mut open = tub();
        open.fault(Fault::Power(false));
        open.fault(Fault::Lid(false));
        open.pass(600.0);
        assert!(56.0 - open.water_c > 2.0 * fell);
    }

    #[test]
    fn a_probe_lags_rounds_sticks_and_hangs_out() {
        let mut t = tub();
        t.pass(60.0);
        let shown = t.read();
        assert!(
            ((shown * 10.0).round() - shown * 10.0).abs() < 1e-6 && (shown - 56.0).abs() < 0.6,
            "{shown}"
        );
        t.fault(Fault::Out(true));
        t.pass(30.0);
        assert!(t.read() < 35.0 && (t.water_c - 56.0).abs() < 0.3);
        t.fault(Fault::Stuck(Some(55.0)));
        assert_eq!(t.read(), 55.0);
    }

    #[test]
    fn faults_are_read_and_others_named_with_what_there_is() {
        assert_eq!("food 1.2 5".parse(), Ok(Fault::Food(1.2, 5.0)));
        assert_eq!("stuck off".parse(), Ok(Fault::Stuck(None)));
        for bad in ["", "power", "water", "food 1", "boil"] {
            let why = bad.parse::<Fault>().expect_err("no fault");
            assert!(why.contains("lid on|off"), "{bad}: {why}");
        }
    }
}
