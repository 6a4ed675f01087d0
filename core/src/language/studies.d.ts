// Made from the studies' metadata by `npm run faces`; a test holds it to that.

/**
 * Simple moving average. Unit: as the source.
 * Formula: mean of the last span values.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function sma(source: Column, span?: number): Column;

/**
 * Exponential moving average. Unit: as the source.
 * Formula: y = y[1] + 2 / (span + 1) * (x - y[1]), seeded by the simple mean of the first span values.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function ema(source: Column, span?: number): Column;

/**
 * Wilder's moving average. Unit: as the source.
 * Formula: y = y[1] + (x - y[1]) / span, seeded by the simple mean of the first span values.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function wilder(source: Column, span?: number): Column;

/**
 * Weighted moving average: the newest value counts most. Unit: as the source.
 * Formula: sum(w * x) / sum(w), with w = 1 for the oldest of span values up to span for the newest.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function wma(source: Column, span?: number): Column;

/**
 * Hull moving average: quick, and smoothed once more. Unit: as the source.
 * Formula: wma(2 * wma(x, floor(span / 2)) - wma(x, span), floor(sqrt(span))).
 * First value: span + floor(sqrt(span)) - 2 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function hull(source: Column, span?: number): Column;

/**
 * Double exponential moving average. Unit: as the source.
 * Formula: 2 * e1 - e2, with e1 = ema(x, span) and e2 = ema(e1, span).
 * First value: 2 * (span - 1) bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function dema(source: Column, span?: number): Column;

/**
 * Triple exponential moving average. Unit: as the source.
 * Formula: 3 * e1 - 3 * e2 + e3, each the ema(span) of the one before.
 * First value: 3 * (span - 1) bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function tema(source: Column, span?: number): Column;

/**
 * Adaptive moving average: quick in a straight move, slow in noise. Unit: as the source.
 * Formula: y = y[1] + c^2 * (x - y[1]), c between 2 / (slow + 1) and 2 / (fast + 1) by efficiency(x, span); begins at x[1].
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out; `fast` whole, 1 to 100000, 2 when left out; `slow` whole, 1 to 100000, 30 when left out.
 */
declare function adaptiveAverage(source: Column, span?: number, fast?: number, slow?: number): Column;

/**
 * Volume-weighted moving average of any source. Unit: as the source.
 * Formula: sum(x * volume, span) / sum(volume, span); the plain mean while nothing was traded.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function vwma(source: Column, volume: Column, span?: number): Column;

/**
 * Median of the last span values: one wild value does not move it. Unit: as the source.
 * Formula: middle of the sorted values, the mean of the two middle ones for an even span.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 9 when left out.
 */
declare function medianOf(source: Column, span?: number): Column;

/**
 * Simple average of as many values as another column says. Unit: as the source.
 * Formula: simple average of the last n values, n = floor(length) kept between floor and ceiling.
 * First value: ceiling - 1 bars after the source's first value, or the first length if later. Inputs: `floor` whole, 1 to 100000, 20 when left out; `ceiling` whole, 1 to 100000, 60 when left out.
 */
declare function averageOver(source: Column, length: Column, floor?: number, ceiling?: number): Column;

/**
 * Relative strength index, 0 to 100. Unit: 0 to 100.
 * Formula: 100 * G / (G + L), with G and L Wilder's averages of the rises and falls; 50 when nothing moved.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function rsi(source: Column, span?: number): Column;

/**
 * Stochastic: where the close stands between the lowest low and the highest high. Unit: 0 to 100.
 * Formula: k = sma(100 * (close - L) / (H - L), slowing) with H, L of span bars (50 when H = L); d = sma(k, smoothing).
 * First value: span + slowing - 2 bars for k, smoothing - 1 more for d. Inputs: `span` whole, 1 to 100000, 14 when left out; `slowing` whole, 1 to 100000, 3 when left out; `smoothing` whole, 1 to 100000, 3 when left out.
 */
declare function stochastic(bars: Bars, span?: number, slowing?: number, smoothing?: number): { readonly k: Column; readonly d: Column };

/**
 * Commodity channel index: distance from the mean in mean deviations. Unit: about -200 to 200.
 * Formula: (t - sma(t, span)) / (0.015 * mean absolute deviation), t the typical price; 0 when nothing moved.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function cci(bars: Bars, span?: number): Column;

/**
 * Change since span bars ago. Unit: as the source.
 * Formula: x - x[span].
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function momentum(source: Column, span?: number): Column;

/**
 * Change since span bars ago in percent. Unit: %.
 * Formula: 100 * (x / x[span] - 1); 0 where x[span] is 0.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function rateOfChange(source: Column, span?: number): Column;

/**
 * Difference of two exponential averages, its signal line and their gap. Unit: as the source.
 * Formula: line = ema(fast) - ema(slow); signal = ema(line, smoothing); histogram = line - signal.
 * First value: max(fast, slow) - 1 bars for the line, smoothing - 1 more for signal and histogram. Inputs: `fast` whole, 1 to 100000, 12 when left out; `slow` whole, 1 to 100000, 26 when left out; `smoothing` whole, 1 to 100000, 9 when left out.
 */
declare function macd(source: Column, fast?: number, slow?: number, smoothing?: number): { readonly line: Column; readonly signal: Column; readonly histogram: Column };

/**
 * Rate of change of a triple exponential smoothing. Unit: %.
 * Formula: 100 * (e / e[1] - 1), e = ema(ema(ema(x, span), span), span); 0 where e[1] is 0.
 * First value: 3 * (span - 1) + 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 15 when left out.
 */
declare function trix(source: Column, span?: number): Column;

/**
 * Directional movement: its two sides and their average strength (ADX). Unit: 0 to 100.
 * Formula: plus, minus = 100 * wilder(+DM or -DM) / wilder(trueRange); adx = wilder(100 * abs(plus - minus) / (plus + minus)); 0 for 0/0.
 * First value: span bars for plus and minus, span - 1 more for adx. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function directional(bars: Bars, span?: number): { readonly adx: Column; readonly plus: Column; readonly minus: Column };

/**
 * Aroon: how fresh the highest high and the lowest low are, and their gap. Unit: 0 to 100.
 * Formula: up = 100 * (span - bars since the highest high of span + 1 bars) / span; down by the lowest low; gap = up - down.
 * First value: span bars. Inputs: `span` whole, 1 to 100000, 25 when left out.
 */
declare function aroon(bars: Bars, span?: number): { readonly up: Column; readonly down: Column; readonly gap: Column };

/**
 * Where a value stands between the lowest and the highest of its last span values; of an RSI: the stochastic RSI. Unit: 0 to 100.
 * Formula: 100 * (x - lowest(x, span)) / (highest(x, span) - lowest(x, span)); 50 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function placeInRange(source: Column, span?: number): Column;

/**
 * Bullish or bearish reading of an oscillator: 1 from a value above one level on, -1 from a value below another on. Unit: -1, 0 or 1.
 * Formula: 1 when x > bullishAbove, -1 when x < bearishBelow, else as before; 0 before either.
 * First value: none after the source's first value. Inputs: `bullishAbove` -1000000000000 to 1000000000000, 60 when left out; `bearishBelow` -1000000000000 to 1000000000000, 40 when left out.
 */
declare function reading(source: Column, bullishAbove?: number, bearishBelow?: number): Column;

/**
 * Bollinger bands: a simple average and bands a number of standard deviations away. Unit: as the source.
 * Formula: middle = sma(span); upper, lower = middle + and - width * standardDeviation(span).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out; `width` 0.01 to 100, 2 when left out.
 */
declare function bollinger(source: Column, span?: number, width?: number): { readonly middle: Column; readonly upper: Column; readonly lower: Column };

/**
 * Keltner channel: an exponential average and bands a number of average true ranges away. Unit: price.
 * Formula: middle = ema(close, span); upper, lower = middle + and - width * atr(span).
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out; `width` 0.01 to 100, 2 when left out.
 */
declare function keltner(bars: Bars, span?: number, width?: number): { readonly middle: Column; readonly upper: Column; readonly lower: Column };

/**
 * Bands a number of average true ranges away from any column. Unit: price.
 * Formula: middle = x; upper, lower = x + and - width * atr(span).
 * First value: span - 1 bars, or the source's first value if later. Inputs: `span` whole, 1 to 100000, 14 when left out; `width` 0.01 to 100, 2 when left out.
 */
declare function atrBands(bars: Bars, source: Column, span?: number, width?: number): { readonly middle: Column; readonly upper: Column; readonly lower: Column };

/**
 * Price channel: highest high and lowest low of the last span bars, the current one included, and their middle. Unit: price.
 * Formula: upper = highest(high, span); lower = lowest(low, span); middle = (upper + lower) / 2.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function donchian(bars: Bars, span?: number): { readonly upper: Column; readonly lower: Column; readonly middle: Column };

/**
 * A stop line that follows price at a number of average true ranges and changes sides when the close passes it. Unit: price.
 * Formula: up: max(line[1], middle - width * atr) while close >= line; a close below turns it to middle + width * atr, and mirrored; middle = (high + low) / 2.
 * First value: span - 1 bars; begins upward. Inputs: `span` whole, 1 to 100000, 10 when left out; `width` 0.01 to 100, 3 when left out.
 */
declare function stopLine(bars: Bars, span?: number, width?: number): { readonly line: Column; readonly direction: Column };

/**
 * Parabolic stop: a line that closes in on price faster with each new extreme, and its direction. Unit: price.
 * Formula: s = s[1] + a * (extreme - s[1]), kept beyond the two bars before; a grows by step up to most with each new extreme; price past s turns it to the extreme.
 * First value: 1 bar; begins in the direction of the second bar's close. Inputs: `step` 0.0001 to 1, 0.02 when left out; `most` 0.0001 to 1, 0.2 when left out.
 */
declare function parabolic(bars: Bars, step?: number, most?: number): { readonly line: Column; readonly direction: Column };

/**
 * True range in price units. Unit: price.
 * Formula: max(high, close[1]) - min(low, close[1]); high - low on the first bar.
 * First value: none.
 */
declare function trueRange(bars: Bars): Column;

/**
 * Average true range in price units. Unit: price.
 * Formula: Wilder's average of the true range.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function atr(bars: Bars, span?: number): Column;

/**
 * Average of high - low over the last span bars, gaps left out. Unit: price.
 * Formula: sma(high - low, span).
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function averageRange(bars: Bars, span?: number): Column;

/**
 * Highest of the last span values, the current one included. Unit: as the source.
 * Formula: max(x, x[1], ..., x[span - 1]).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function highest(source: Column, span?: number): Column;

/**
 * Lowest of the last span values, the current one included. Unit: as the source.
 * Formula: min(x, x[1], ..., x[span - 1]).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function lowest(source: Column, span?: number): Column;

/**
 * Highest of as many values as another column says. Unit: as the source.
 * Formula: highest of the last n values, n = floor(length) kept between floor and ceiling.
 * First value: ceiling - 1 bars after the source's first value, or the first length if later. Inputs: `floor` whole, 1 to 100000, 20 when left out; `ceiling` whole, 1 to 100000, 60 when left out.
 */
declare function highestOver(source: Column, length: Column, floor?: number, ceiling?: number): Column;

/**
 * Lowest of as many values as another column says. Unit: as the source.
 * Formula: lowest of the last n values, n = floor(length) kept between floor and ceiling.
 * First value: ceiling - 1 bars after the source's first value, or the first length if later. Inputs: `floor` whole, 1 to 100000, 20 when left out; `ceiling` whole, 1 to 100000, 60 when left out.
 */
declare function lowestOver(source: Column, length: Column, floor?: number, ceiling?: number): Column;

/**
 * On-balance volume: volume added on a rise of the close, taken off on a fall. Unit: volume.
 * Formula: y = y[1] + sign(close - close[1]) * volume.
 * First value: none; begins at 0 on the first bar.
 */
declare function onBalanceVolume(bars: Bars): Column;

/**
 * Accumulation line: volume weighted by where the bar closed in its range. Unit: volume.
 * Formula: y = y[1] + ((close - low) - (high - close)) / (high - low) * volume; nothing for a bar without range.
 * First value: none; begins at 0 on the first bar.
 */
declare function accumulation(bars: Bars): Column;

/**
 * Money flow index: share of the traded value on bars with a rising typical price. Unit: 0 to 100.
 * Formula: 100 * P / (P + N), P and N the sums of typical price * volume over span rises and falls; 50 when nothing moved.
 * First value: span bars. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function moneyFlow(bars: Bars, span?: number): Column;

/**
 * Volume against its average over the last span bars. Unit: times the average.
 * Formula: volume / sma(volume, span); 1 while nothing was traded.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function volumeRatio(bars: Bars, span?: number): Column;

/**
 * Share of the volume of span bars that closed high in their range, less the share that closed low. Unit: -1 to 1.
 * Formula: sum(((close - low) - (high - close)) / (high - low) * volume, span) / sum(volume, span); 0 while nothing was traded.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function volumePressure(bars: Bars, span?: number): Column;

/**
 * Standard deviation of the last span values. Unit: as the source.
 * Formula: sqrt(mean((x - mean(x))^2)), divisor span.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function standardDeviation(source: Column, span?: number): Column;

/**
 * Yearly volatility of log returns in percent. Unit: % a year.
 * Formula: 100 * sqrt(perYear) * standard deviation (divisor span - 1) of ln(x / x[1]) over span returns; a price of 0 or less counts as no move.
 * First value: span bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out; `perYear` 1 to 1000000, 252 when left out.
 */
declare function historicalVolatility(source: Column, span?: number, perYear?: number): Column;

/**
 * Distance from the mean of the last span values in standard deviations. Unit: standard deviations.
 * Formula: (x - sma(x, span)) / standardDeviation(x, span); 0 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function zScore(source: Column, span?: number): Column;

/**
 * How many percent of the span values before are below the current one; equal ones count half. Unit: 0 to 100.
 * Formula: 100 * (values below + half of the values equal) / span, among x[1] to x[span].
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 100 when left out.
 */
declare function percentRank(source: Column, span?: number): Column;

/**
 * Sum of the last span values. Unit: as the source.
 * Formula: x + x[1] + ... + x[span - 1].
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function sumOf(source: Column, span?: number): Column;

/**
 * Efficiency ratio: how straight the last span steps were. Unit: 0 to 1.
 * Formula: abs(x - x[span]) / sum(abs(x - x[1]), span); 0 when nothing moved.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function efficiency(source: Column, span?: number): Column;

/**
 * Least-squares line through the last span values: its end, its slope a bar, and how well it fits. Unit: as the source.
 * Formula: line through (k, x[k]); value at the newest bar; slope a bar; fit = r squared, 0 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function regression(source: Column, span?: number): { readonly value: Column; readonly slope: Column; readonly fit: Column };

/**
 * Correlation of two columns, of two instruments too. Unit: -1 to 1.
 * Formula: sum(dx * dy) / sqrt(sum(dx^2) * sum(dy^2)) over span values, d from the means; 0 when one did not move.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 2 to 100000, 50 when left out.
 */
declare function correlation(source: Column, other: Column, span?: number): Column;

/**
 * How much a column moves for a move of another. Unit: per unit of the other.
 * Formula: sum(dx * dy) / sum(dy^2) over span values, x the source and y the other; 0 when the other did not move.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 2 to 100000, 50 when left out.
 */
declare function beta(source: Column, other: Column, span?: number): Column;

/**
 * Open of the session's first bar. Unit: price.
 * Formula: open of the first bar.
 * First value: none.
 */
declare function sessionOpen(bars: Bars): Column;

/**
 * Highest price of the session so far. Unit: price.
 * Formula: max of high since the session opened.
 * First value: none.
 */
declare function sessionHigh(bars: Bars): Column;

/**
 * Lowest price of the session so far. Unit: price.
 * Formula: min of low since the session opened.
 * First value: none.
 */
declare function sessionLow(bars: Bars): Column;

/**
 * Volume-weighted average price of the session so far. Unit: price.
 * Formula: sum(typicalPrice * volume) / sum(volume) since the session opened; the typical price while nothing was traded.
 * First value: none.
 */
declare function sessionVwap(bars: Bars): Column;

/**
 * High and low of the session's first bars. Unit: price.
 * Formula: highest high and lowest low of the first count bars of the session; of those there are so far while it forms.
 * First value: none. Inputs: `count` whole, 1 to 100000, 1 when left out.
 */
declare function openingRange(bars: Bars, count?: number): { readonly high: Column; readonly low: Column };

/**
 * Open, high, low, close and range of the session before. Unit: price.
 * Formula: of the bars of the last completed session; range = high - low.
 * First value: until the second session of the data.
 */
declare function previousSession(bars: Bars): { readonly open: Column; readonly high: Column; readonly low: Column; readonly close: Column; readonly range: Column };

/**
 * Pivot levels of the session before: the pivot, two resistances and two supports. Unit: price.
 * Formula: pivot = (H + L + C) / 3; r1 = 2 * pivot - L; s1 = 2 * pivot - H; r2, s2 = pivot + and - (H - L).
 * First value: until the second session of the data.
 */
declare function pivots(bars: Bars): { readonly pivot: Column; readonly r1: Column; readonly s1: Column; readonly r2: Column; readonly s2: Column };

/**
 * Bars since the session opened; the first bar counts 1. Unit: bars.
 * Formula: 1, 2, 3, ... within a session.
 * First value: none.
 */
declare function barsSinceOpen(bars: Bars): Column;

/**
 * Exchange time of the bar's open in minutes after midnight. Unit: minutes.
 * Formula: wall clock of the exchange, hours x 60 + minutes.
 * First value: none.
 */
declare function minuteOfDay(bars: Bars): Column;

/**
 * Weekday of the session's date: 1 for Monday to 7 for Sunday. Unit: 1 to 7.
 * Formula: day of the week of the session's date.
 * First value: none.
 */
declare function weekday(bars: Bars): Column;

/**
 * Minutes from the bar's close to the session's scheduled close, early closes included; 0 on its last bar. Unit: minutes.
 * Formula: session close - bar close, not below 0.
 * First value: none.
 */
declare function minutesToClose(bars: Bars): Column;

/**
 * Mean of high, low and close. Unit: price.
 * Formula: (high + low + close) / 3.
 * First value: none.
 */
declare function typicalPrice(bars: Bars): Column;

/**
 * Middle of the bar's range. Unit: price.
 * Formula: (high + low) / 2.
 * First value: none.
 */
declare function medianPrice(bars: Bars): Column;

/**
 * Range of the bar. Unit: price.
 * Formula: high - low.
 * First value: none.
 */
declare function barRange(bars: Bars): Column;

/**
 * Body of the bar: above 0 when it closed above its open. Unit: price.
 * Formula: close - open.
 * First value: none.
 */
declare function barBody(bars: Bars): Column;
