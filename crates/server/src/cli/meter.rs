//! `wayfinder meter`: what stands in for a bench meter.

use std::net::{SocketAddr, TcpListener};

use clap::Args;
use wayfinder_core::load::drawing::{Drawn, called};
use wayfinder_core::load::expect::flaw;
use wayfinder_instruments::StandIn;

use super::files::Bad;
use crate::bench::Bench;
use crate::demo;

#[derive(Args)]
pub struct MeterArgs {
    /// Address and port.
    #[arg(long, default_value = "127.0.0.1:5025")]
    listen: SocketAddr,
    /// What is on in the house: tags, names of loads, or K3:toaster; several with commas.
    #[arg(long, value_delimiter = ',')]
    on: Vec<String>,
    /// What is wrong in it, as for `expect`; may be given again.
    #[arg(long)]
    fault: Vec<String>,
}

pub fn stand_in(args: &MeterArgs) -> Result<(), Bad> {
    let house = demo::house().map_err(|faults| Bad::new(format!("{faults:?}")))?;
    let truth = demo::truth(&house).map_err(Bad::new)?;
    let things: Result<Vec<_>, _> = args.on.iter().map(|text| called(&house, text)).collect();
    let things = things.map_err(|e| Bad::new(format!("--on: {e}")))?.into_iter().flatten();
    let on = things.filter_map(|t| if let Drawn::Load(id) = t { Some(id) } else { None }).collect();
    let flaws: Result<Vec<_>, _> = args.fault.iter().map(|text| flaw(&house, text)).collect();
    let flaws = flaws.map_err(|e| Bad::new(format!("--fault: {e}")))?;
    let bench = Bench::new(house, truth, on, flaws).ok_or_else(|| Bad::new("the house has no panel"))?;
    let listener = TcpListener::bind(args.listen).map_err(|e| Bad::new(format!("--listen {}: {e}", args.listen)))?;
    let address = listener.local_addr().map_err(Bad::new)?;
    println!("A stand-in for a bench meter is at {address}. Its probes are at Main, A to N.");
    StandIn::new(bench).serve(&listener).map_err(Bad::new)
}
