#![no_main]
libfuzzer_sys::fuzz_target!(|data: &[u8]| windrift_fuzz::dxf(data));
