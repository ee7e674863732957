import { getContext, setContext } from 'svelte';
import { shopFormat, type ShopFormat, type ShopSettings } from '$lib/core/units/shop-format';

const KEY = Symbol('shop format');

/** Hands the shop's way of writing money and time to everything below. */
export const provideFormat = (settings: () => ShopSettings) => setContext(KEY, () => shopFormat(settings()));
export const useFormat = (): ShopFormat => getContext<() => ShopFormat>(KEY)();
