import { getContext, setContext } from 'svelte';
import { shopFormat, type ShopFormat, type ShopSettings } from '$lib/core/units/shop-format';

const KEY = Symbol('shop format');
const SHOP = Symbol('shop settings');

/** Hands the shop's way of writing money and time to everything below. */
export const provideFormat = (settings: () => ShopSettings) => {
	setContext(SHOP, settings);
	setContext(KEY, () => shopFormat(settings()));
};
/** Zone and way of writing, for fields that read and write days themselves. */
export const useShop = (): ShopSettings => getContext<() => ShopSettings>(SHOP)();
export const useFormat = (): ShopFormat => getContext<() => ShopFormat>(KEY)();
