//! How long it takes, in a browser, from signing in to the first rows of a large view, and for how long scrolling through it
//! shows blanks. Its last lines are `ratio NAME VALUE`, over what is wanted: `first-rows` seconds over 1, `blanks` the longest
//! blank over 100 ms, scrolled at 100 rows a second. `WESTERFALL_BENCH_FAULTS` sets how many faults (100,000 if not given).

use serde_json::json;
use std::time::Duration;
use westerfall_e2e::{Driver, Server};

/// Scrolls for so long, in milliseconds.
const SPAN: u32 = 10_000;
/// Pixels a second: 100 rows, or five screens. So much faster that a frame jumps over what is drawn beside the screen, what is
/// painted and what is measured would be two things.
const SPEED: u32 = 3_300;

/// Scrolls with each frame, and gives for how long at most any row on the screen was blank, and how far it came.
const SCROLL: &str = "
    const [span, speed, done] = arguments;
    const grid = document.querySelector('[data-test=grid]');
    const begun = performance.now();
    let last = begun, blankSince, worst = 0, frames = 0;
    function frame(now) {
      // What stands there since the last frame, before going on.
      frames += 1;
      const box = grid.getBoundingClientRect();
      const rows = [...grid.querySelectorAll('.body [role=row]')].map((row) => [row.getBoundingClientRect(), row.classList.contains('loading')]);
      const seen = rows.filter(([at]) => at.bottom > box.top + 40 && at.top < box.bottom);
      const blank = !seen.length || seen.some(([, loading]) => loading);
      if (blank) worst = Math.max(worst, now - (blankSince ??= now));
      else blankSince = undefined;
      grid.scrollTop += (speed * (now - last)) / 1000;
      last = now;
      if (now - begun < span) requestAnimationFrame(frame);
      else done([worst, grid.scrollTop, frames]);
    }
    requestAnimationFrame(frame);";

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let server = Server::start(faults).await;
    let driver = Driver::start().await;
    let browser = driver.browser(&server, 1280, 800).await;
    browser.walk_in("Nadia Ferreira-Holt").await;
    browser.web.set_script_timeout(Duration::from_secs(60)).await?;
    let first = browser.first("/t/1/3/101", "[data-field='What is wrong']").await;
    let answer = browser.web.execute_async(SCROLL, vec![json!(SPAN), json!(SPEED)]).await?.json().clone();
    let number = |n: usize| answer[n].as_f64().unwrap_or(f64::NAN);
    let (worst, far, frames) = (number(0), number(1), number(2));
    println!(
        "{faults} faults: first rows after {first:.2} s; scrolled {far:.0} pixels in {frames:.0} frames, blank for at most {worst:.0} ms"
    );
    browser.close().await;
    println!("ratio first-rows {first:.2}");
    println!("ratio blanks {:.2}", worst / 100.0);
    Ok(())
}
